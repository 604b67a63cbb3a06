<?php

declare(strict_types=1);

$data = env('KITE_DATA', storage_path('kite'));

return [
    // Where everything lives that a run makes: database, media, sockets, logs.
    'data' => $data,
    'run' => env('KITE_RUN', $data.'/run'),

    // Ports on the loopback interface: the web address, the engine's own, OSC over UDP, and that of the virtual rig's
    // inputs.
    'port' => (int) env('KITE_PORT', 4180),
    'live_port' => (int) env('KITE_LIVE_PORT', (int) env('KITE_PORT', 4180) + 1),
    'osc_port' => (int) env('KITE_OSC_PORT', (int) env('KITE_PORT', 4180) + 2),
    // MIDI over the network (RTP-MIDI): this port is for sessions, the next one for data; 0 for none.
    'rtp_port' => (int) env('KITE_RTP_PORT', 5004),
    // The port at which the virtual rig's projectors take PJLink, from 127.0.0.11 on; 0 for none.
    'pjlink_port' => (int) env('KITE_PJLINK_PORT', 4352),
    // The port at which a device of the virtual rig takes lines over TCP, at 127.0.0.17; 0 for none.
    'line_port' => (int) env('KITE_LINE_PORT', 4353),
    // The ports of the lighting network: sACN and Art-Net come in there, and nodes answer to that of Art-Net.
    'sacn_port' => (int) env('KITE_SACN_PORT', 5568),
    'artnet_port' => (int) env('KITE_ARTNET_PORT', 6454),
    // The interfaces on which OSC and MIDI over the network come in, and on which the lighting network does: this machine
    // alone, unless the address of one is given; 0.0.0.0 for all.
    // The address and port at which paired tablets come in over the network; empty for none.
    'panels' => (string) env('KITE_PANELS', ''),
    'controls_interface' => env('KITE_CONTROLS_INTERFACE', '127.0.0.1'),
    'lights_interface' => env('KITE_LIGHTS_INTERFACE', '127.0.0.1'),
    // Those of the virtual rig's nodes: Art-Net, sACN, DDP.
    'rig_ports' => array_combine(
        ['artnet', 'sacn', 'ddp'],
        array_map(intval(...), array_pad(explode(',', (string) env('KITE_RIG_PORTS', '6454,5568,4048')), 3, '0')),
    ),
    'inputs_port' => (int) env('KITE_INPUTS_PORT', (int) env('KITE_PORT', 4180) + 3),

    // Names by which a browser may call us.
    'hosts' => array_values(array_filter(explode(',', (string) env('KITE_HOSTS', '127.0.0.1,localhost')))),

    // Uploads.
    'largest_file' => (int) env('KITE_LARGEST_FILE', 64 * 1024 ** 3),
    'largest_chunk' => (int) env('KITE_LARGEST_CHUNK', 8 * 1024 ** 2),
    'keep_free' => (int) env('KITE_KEEP_FREE', 256 * 1024 ** 2),

    // What is converted: seconds that a video may last, bytes of memory and seconds of computing that a decoder gets,
    // seconds that reading a model or casting light may take.
    'longest_video' => (int) env('KITE_LONGEST_VIDEO', 12 * 3600),
    'convert_memory' => (int) env('KITE_CONVERT_MEMORY', 6 * 1024 ** 3),
    'convert_seconds' => (int) env('KITE_CONVERT_SECONDS', 48 * 3600),
    'job_seconds' => (int) env('KITE_JOB_SECONDS', 1800),
];
