package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"solfeggio/internal/store"
)

func backupCommand(c *config) *cobra.Command {
	return &cobra.Command{
		Use:   "backup FILE",
		Short: "Write everything into one file, while people work",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			owner, err := c.owner()
			if err != nil {
				return err
			}
			now, err := c.clock()
			if err != nil {
				return err
			}
			m, err := store.Backup(cmd.Context(), owner, now(), args[0])
			if err != nil {
				return err
			}
			_, err = fmt.Fprintf(cmd.OutOrStdout(), "%s: %d bytes, migration %d, PostgreSQL %s\n", args[0], m.Bytes, m.Migration, m.Server)
			return err
		},
	}
}

func restoreCommand(c *config) *cobra.Command {
	return &cobra.Command{
		Use:   "restore FILE",
		Short: "Bring a backup into an empty database",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			owner, err := c.owner()
			if err != nil {
				return err
			}
			m, err := store.Restore(cmd.Context(), owner, args[0])
			if err != nil {
				return err
			}
			_, err = fmt.Fprintf(cmd.OutOrStdout(), "restored as of %s; everybody signs in anew\n", m.TakenAt.Format("2 January 2006, 15:04 MST"))
			return err
		},
	}
}
