<?php

namespace Ottermere\Guestbook;

use Psr\Log\LoggerInterface;

/** Takes what residents write about the river. */
final class Guestbook
{
    public function __construct(private LoggerInterface $logger, private Store $store)
    {
    }

    public function sign(string $name, string $text): bool
    {
        $this->logger->info("signed by $name");
        $this->logger->info('text has ' . strlen($text) . ' letters');
        try {
            $this->store->add($name, $text);
        } catch (StoreDown $e) {
            $this->logger->error('entry of {name} was not stored', ['name' => $name]);
            return false;
        }
        var_dump($this->store);
        return true;
    }

    public function login(string $warden, string $password): bool
    {
        $this->logger->debug('login of {warden} with {password}', ['warden' => $warden, 'password' => $password]);
        $this->logger->warning(sprintf('warden %s knocks', $warden));
        return $this->store->knows($warden, $password);
    }

    public function tidy(): void
    {
        foreach ($this->store->old() as $entry) {
            try {
                $this->store->drop($entry);
            } catch (StoreLocked $e) {
            }
        }
        error_log('tidied');
        $this->logger->warning('error');
    }

    public function export(string $file): void
    {
        try {
            $this->store->write($file);
        } catch (\RuntimeException $e) {
            $this->logger->debug('guestbook was not written to {file}', ['file' => $file, 'exception' => $e]);
        }
    }
}
