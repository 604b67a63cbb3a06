<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;

/** A tablet that may show a touch panel over the network, or a code by which one may become so. */
final class PairedPanel extends Model
{
    use HasUlids;

    public $timestamps = false;

    protected $table = 'paired_panels';

    protected $guarded = [];

    /** What is kept of a code or a token. */
    public static function hashed(string $secret): string
    {
        return hash_hmac('sha256', $secret, (string) config('app.key'));
    }

    /** The tablet that a token is of. */
    public static function ofToken(string $token): ?self
    {
        return $token === '' ? null : self::query()->where('token', self::hashed($token))->first();
    }

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['until' => 'integer', 'tries' => 'integer', 'pairedAt' => 'integer'];
    }
}
