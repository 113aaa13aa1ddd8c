// Fjell is one program: the server with its web app, its demo, its migrations, its API document, and the pocket sums.
package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"os/signal"
	"syscall"
	_ "time/tzdata" // farms have time zones wherever the program runs

	"github.com/spf13/cobra"

	"fjell/core/quantity"
)

// exitRefused is the exit status when the input was refused, so that scripts can tell it from a failure.
const exitRefused = 2

func main() {
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, nil)))
	ctx, stop := signal.NotifyContext(context.Background(), syscall.SIGINT, syscall.SIGTERM)
	defer stop()
	root := &cobra.Command{Use: "fjell", Short: "Paddocks, moves and the sums between them", SilenceUsage: true, SilenceErrors: true}
	root.AddCommand(serveCommand(), demoCommand(), migrateCommand(), openapiCommand(), standInCommand(), reckonCommand(), planCommand())
	if err := root.ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "fjell:", err)
		var refused *quantity.Problem
		if errors.As(err, &refused) {
			os.Exit(exitRefused)
		}
		os.Exit(1)
	}
}
