package main

import (
	"encoding/json"
	"errors"
	"io"

	"github.com/spf13/cobra"

	"solfeggio/internal/core/calc"
)

// badInput ends the program with status 2.
type badInput struct{ error }

func (badInput) ExitCode() int { return 2 }

func calcCommand() *cobra.Command {
	var list bool
	cmd := &cobra.Command{
		Use: "calc NAME", Short: "Run a calculator: JSON on standard input, JSON on standard output",
		Args: func(_ *cobra.Command, args []string) error {
			if !list && len(args) != 1 {
				return badInput{errors.New("calc: name one calculator; calc --list shows them")}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, args []string) error {
			out := json.NewEncoder(cmd.OutOrStdout())
			if list {
				out.SetIndent("", "  ")
				return out.Encode(calc.All())
			}
			c, err := calc.Find(args[0])
			if err != nil {
				return badInput{err}
			}
			input, err := io.ReadAll(cmd.InOrStdin())
			if err != nil {
				return err
			}
			result, err := c.Call(cmd.Context(), input)
			if err != nil {
				return badInput{err}
			}
			return out.Encode(result)
		},
	}
	cmd.Flags().BoolVar(&list, "list", false, "list all calculators with their JSON schemas")
	return cmd
}
