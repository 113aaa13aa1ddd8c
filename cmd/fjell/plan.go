package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"time"

	"github.com/spf13/cobra"

	"fjell/core/quantity"
	"fjell/core/rotation/plan"
)

// mostProblem is the largest problem that is read, bytes.
const mostProblem = 64 << 20

func planCommand() *cobra.Command {
	var explain, progress bool
	cmd := &cobra.Command{
		Use:   "plan < problem.json > plan.json",
		Short: "Plan the moves of a problem: which paddock, when, how long, and how good that is",
		Long: "Plan the moves of a problem on JSON: an object in gives an object out. docs/planner.md describes both.\n" +
			"Bad input, and a problem without an allowed plan, end with status 2 and say in one line what is wrong.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			raw, err := io.ReadAll(io.LimitReader(cmd.InOrStdin(), mostProblem+1))
			if err != nil {
				return fmt.Errorf("read the problem: %w", err)
			}
			if len(raw) > mostProblem {
				return quantity.Refuse("body", nil, "a problem has at most %d MB", mostProblem>>20)
			}
			problem, err := plan.Read(raw)
			if err != nil {
				return err
			}
			ctx, stop := context.WithTimeout(cmd.Context(), time.Duration(problem.Seconds*float64(time.Second)))
			defer stop()
			var told plan.Progress
			if progress {
				told = tenths(cmd.ErrOrStderr())
			}
			answer, err := plan.Solve(ctx, &problem, told)
			if err != nil {
				return err
			}
			if explain {
				return plan.Explain(cmd.OutOrStdout(), &problem, answer)
			}
			return json.NewEncoder(cmd.OutOrStdout()).Encode(answer)
		},
	}
	cmd.Flags().BoolVar(&explain, "explain", false, "say the plan in sentences in place of JSON")
	cmd.Flags().BoolVar(&progress, "progress", false, "say on standard error how far the search is")
	return cmd
}

// tenths says how far a search is, a line for every tenth of it.
func tenths(to io.Writer) plan.Progress {
	said := 0
	return func(share float64) {
		if tenth := int(share * 10); tenth > said {
			said = tenth
			_, _ = fmt.Fprintf(to, "searched %d %%\n", said*10)
		}
	}
}
