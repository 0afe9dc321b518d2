package main

import (
	"fmt"
	"log/slog"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
)

// personCommand looks after who signs in, from the server's own command line: for scripts, and for the director whom nobody else can let
// in again.
func personCommand(c *config, log *slog.Logger) *cobra.Command {
	root := &cobra.Command{Use: "person", Short: "List and add people, and give them new passwords"}
	with := func(f func(cmd *cobra.Command, a *access.Room) error) func(*cobra.Command, []string) error {
		return func(cmd *cobra.Command, _ []string) error {
			db, now, err := open(cmd.Context(), *c)
			if err != nil {
				return err
			}
			defer db.Close()
			return plain(f(cmd, app.New(db, now, log).Access))
		}
	}
	var beside, email string
	var who access.Colleague

	list := &cobra.Command{
		Use: "list", Short: "List the people of the school of somebody", Args: cobra.NoArgs,
		RunE: with(func(cmd *cobra.Command, a *access.Room) error {
			people, err := a.Staff(cmd.Context(), beside)
			if err != nil {
				return err
			}
			out := tabwriter.NewWriter(cmd.OutOrStdout(), 0, 0, 2, ' ', 0)
			for _, p := range people {
				fmt.Fprintf(out, "%s\t%s\t%s\t%s\n", p.Email, p.Name, p.Role, map[bool]string{false: "switched off"}[p.Active])
			}
			return out.Flush()
		}),
	}
	add := &cobra.Command{
		Use: "add", Short: "Add somebody to the school of somebody; the password is read from standard input", Args: cobra.NoArgs,
		RunE: with(func(cmd *cobra.Command, a *access.Room) error {
			password, err := readPassword(cmd, "Password for "+who.Name)
			if err != nil {
				return err
			}
			if err := a.Appoint(cmd.Context(), beside, who, password); err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s signs in as %s.\n", who.Name, who.Email)
			return nil
		}),
	}
	password := &cobra.Command{
		Use: "password", Short: "Give somebody a new password, read from standard input, and sign them out everywhere", Args: cobra.NoArgs,
		RunE: with(func(cmd *cobra.Command, a *access.Room) error {
			password, err := readPassword(cmd, "New password for "+email)
			if err != nil {
				return err
			}
			if err := a.SetPassword(cmd.Context(), email, password); err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s has a new password and is signed out everywhere.\n", email)
			return nil
		}),
	}
	lost := &cobra.Command{
		Use: "lost-telephone", Short: "Take away the second factor of somebody who has lost their telephone and their paper", Args: cobra.NoArgs,
		RunE: with(func(cmd *cobra.Command, a *access.Room) error {
			if err := a.DropFactorByCommand(cmd.Context(), email); err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s signs in with the password alone, and is signed out everywhere.\n", email)
			return nil
		}),
	}
	lost.Flags().StringVar(&email, "email", "", "their e-mail address")
	_ = lost.MarkFlagRequired("email")
	for _, cmd := range []*cobra.Command{list, add} {
		cmd.Flags().StringVar(&beside, "beside", "", "e-mail address of somebody of the school")
		_ = cmd.MarkFlagRequired("beside") // the flag exists, as the following
	}
	add.Flags().StringVar(&who.Name, "name", "", "their name")
	add.Flags().StringVar(&who.Email, "email", "", "their e-mail address")
	add.Flags().StringVar((*string)(&who.Role), "role", string(journal.Helper), "director, assistant, helper or viewer")
	password.Flags().StringVar(&email, "email", "", "their e-mail address")
	_ = add.MarkFlagRequired("name")
	_ = add.MarkFlagRequired("email")
	_ = password.MarkFlagRequired("email")
	root.AddCommand(list, add, password, lost)
	return root
}
