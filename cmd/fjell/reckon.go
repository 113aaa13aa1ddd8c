package main

import (
	"encoding/json"

	"github.com/spf13/cobra"

	"fjell/core/quantity"
	"fjell/core/reckon"
)

func reckonCommand() *cobra.Command {
	var list bool
	cmd := &cobra.Command{
		Use:   "reckon SUM < in.json > out.json",
		Short: "Do a pocket sum: an object in gives an object out, an array gives an array",
		Long: "Do a pocket sum on JSON. Bad input ends with status 2 and names the field, the limit and what came.\n" +
			"fjell reckon --list describes every sum, its fields with units, and the bands of plausible figures.",
		Args: cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if list {
				enc := json.NewEncoder(cmd.OutOrStdout())
				enc.SetIndent("", " ")
				return enc.Encode(reckon.Sums())
			}
			if len(args) == 0 {
				return quantity.Refuse("sum", nil, "name a sum; fjell reckon --list shows them")
			}
			sum, err := reckon.Find(args[0])
			if err != nil {
				return err
			}
			return sum.Stream(cmd.InOrStdin(), cmd.OutOrStdout(), cmd.ErrOrStderr())
		},
	}
	cmd.Flags().BoolVar(&list, "list", false, "describe every sum as JSON")
	return cmd
}
