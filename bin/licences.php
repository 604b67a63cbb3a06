<?php

/* Writes the notice of all third-party packages that are installed, with their licence texts, to standard output. */

declare(strict_types=1);

$root = dirname(__DIR__);
$packages = [];
foreach (json_decode((string) file_get_contents("$root/vendor/composer/installed.json"), true)['packages'] ?? [] as $package) {
    $packages["{$package['name']} {$package['version']}"] = [implode(', ', $package['license'] ?? []), "$root/vendor/{$package['name']}"];
}
foreach (json_decode((string) file_get_contents("$root/package-lock.json"), true)['packages'] ?? [] as $path => $package) {
    if ($path !== '' && ! ($package['dev'] ?? false) && is_dir("$root/$path")) {
        $packages[preg_replace('~^.*node_modules/~', '', $path).' '.$package['version']] = [(string) ($package['license'] ?? 'unknown'), "$root/$path"];
    }
}
ksort($packages);
echo "Kite Lamp is made with these packages. Each belongs to its authors and comes under its own licence.\n";
foreach ($packages as $name => [$licence, $folder]) {
    echo "\n", str_repeat('=', 78), "\n$name ($licence)\n";
    foreach (glob("$folder/{LICEN[CS]E*,licen[cs]e*,COPYING*,NOTICE*}", GLOB_BRACE) ?: [] as $file) {
        is_file($file) && print "\n".trim((string) file_get_contents($file))."\n";
    }
}
