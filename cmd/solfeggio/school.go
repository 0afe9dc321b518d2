package main

import (
	"fmt"
	"log/slog"

	"github.com/google/uuid"
	"github.com/spf13/cobra"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/core/care"
	"solfeggio/internal/store/schoolrows"
)

func schoolCommand(c *config, log *slog.Logger) *cobra.Command {
	in := access.NewSchool{School: schoolrows.School{PlayerCare: "trusted", OpensAt: care.DefaultOpensAt, LateAt: care.DefaultLateAt}}
	cmd := &cobra.Command{
		Use: "school", Short: "Set up a school and its first director; the password is read from standard input", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			var err error
			if in.Password, err = readPassword(cmd, "Password for the director"); err != nil {
				return err
			}
			in.School.ID = uuid.Must(uuid.NewV7())
			db, now, err := open(cmd.Context(), *c)
			if err != nil {
				return err
			}
			defer db.Close()
			if _, err := app.New(db, now, log).Access.SetUpSchool(cmd.Context(), in); err != nil {
				return plain(err)
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s is set up; %s signs in as %s.\n", in.School.Name, in.Name, in.Email)
			return nil
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&in.School.Name, "name", "", "name of the school")
	flags.StringVar(&in.School.TimeZone, "time-zone", "UTC", "its time zone, such as Europe/Vienna")
	flags.StringVar(&in.School.Locale, "locale", "en-GB", "how it writes dates and numbers")
	flags.StringVar((*string)(&in.School.Currency), "currency", "EUR", "its currency")
	flags.StringVar(&in.Name, "director", "", "name of the director")
	flags.StringVar(&in.Email, "email", "", "e-mail address of the director")
	for _, needed := range []string{"name", "director", "email"} {
		_ = cmd.MarkFlagRequired(needed) // the flag exists
	}
	return cmd
}
