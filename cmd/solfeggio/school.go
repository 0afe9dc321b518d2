package main

import (
	"bufio"
	"errors"
	"fmt"
	"log/slog"
	"strings"

	"github.com/google/uuid"
	"github.com/spf13/cobra"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/care"
	"solfeggio/internal/store"
)

func schoolCommand(c *config, log *slog.Logger) *cobra.Command {
	in := access.NewSchool{School: store.School{PlayerCare: "trusted", OpensAt: care.DefaultOpensAt, LateAt: care.DefaultLateAt}}
	cmd := &cobra.Command{
		Use: "school", Short: "Set up a school and its first director; the password is read from standard input", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			fmt.Fprint(cmd.ErrOrStderr(), "Password for the director (8 characters or more): ")
			line, err := bufio.NewReader(cmd.InOrStdin()).ReadString('\n')
			if err != nil && line == "" {
				return errors.New("no password on standard input")
			}
			in.Password = access.Secret(strings.TrimRight(line, "\r\n"))
			in.School.ID = uuid.Must(uuid.NewV7())
			db, now, err := open(cmd.Context(), *c)
			if err != nil {
				return err
			}
			defer db.Close()
			if _, err := app.New(db, now, log).Access.SetUpSchool(cmd.Context(), in); err != nil {
				var f *journal.Fault
				if errors.As(err, &f) && len(f.Fields) > 0 {
					return fmt.Errorf("%s: %s", f.Fields[0].Path, f.Fields[0].Message)
				}
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s is set up; %s signs in as %s.\n", in.School.Name, in.Name, in.Email)
			return nil
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&in.School.Name, "name", "", "name of the school")
	flags.StringVar(&in.School.TimeZone, "time-zone", "UTC", "its time zone, such as Europe/Vienna")
	flags.StringVar(&in.School.Locale, "locale", "en-GB", "how it writes dates and numbers")
	flags.StringVar(&in.School.Currency, "currency", "EUR", "its currency")
	flags.StringVar(&in.Name, "director", "", "name of the director")
	flags.StringVar(&in.Email, "email", "", "e-mail address of the director")
	for _, needed := range []string{"name", "director", "email"} {
		_ = cmd.MarkFlagRequired(needed) // the flag exists
	}
	return cmd
}
