// Command reed reads the logging in a code base the way a careful reviewer
// would.
package main

import (
	"context"
	"os"
	"os/signal"
	"syscall"

	"reed/internal/cli"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	status := cli.Main(ctx, os.Args[1:], cli.Streams{In: os.Stdin, Out: os.Stdout, Err: os.Stderr})
	stop()
	os.Exit(status)
}
