<?php

return [
    'development' => ['level' => 'debug', 'stream' => 'php://stderr'],
    'production' => ['level' => 'warning', 'stream' => 'log/guestbook.log'],
];
