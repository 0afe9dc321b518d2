// Command solfeggio is the whole program: the server, its demo, its calculators and its tools.
package main

import (
	"context"
	"fmt"
	"log/slog"
	"net/netip"
	"os"
	"os/signal"
	"strings"
	"syscall"
	"time"

	"github.com/caarlos0/env/v11"
	"github.com/spf13/cobra"
)

// config comes from the environment.
type config struct {
	DatabaseURL   string         `env:"SOLFEGGIO_DATABASE_URL"` // one address, or several with blanks between, each with schools of its own
	OwnerURL      string         `env:"SOLFEGGIO_OWNER_URL"`    // as whom tables are made and backed up; left out, the same as the other
	Address       string         `env:"SOLFEGGIO_ADDRESS" envDefault:"127.0.0.1:8080"`
	Now           string         `env:"SOLFEGGIO_NOW"`
	SecureCookies bool           `env:"SOLFEGGIO_SECURE_COOKIES"`
	Proxies       []netip.Prefix `env:"SOLFEGGIO_TRUSTED_PROXIES"` // whose word on where a request comes from is believed, as 10.0.0.0/8
	Metrics       string         `env:"SOLFEGGIO_METRICS_ADDRESS"`
	Shop          string         `env:"SOLFEGGIO_SHOP_URL"`   // of a shop's computer, such as the simulated one
	Mail          string         `env:"SOLFEGGIO_MAIL_URL"`   // of a mail server; left out, nothing is sent
	Public        string         `env:"SOLFEGGIO_PUBLIC_URL"` // under which people reach it, for letters
}

// clock is the real one, or stands still at SOLFEGGIO_NOW.
func (c config) clock() (func() time.Time, error) {
	if c.Now == "" {
		return time.Now, nil
	}
	fixed, err := time.Parse(time.RFC3339, c.Now)
	if err != nil {
		return nil, fmt.Errorf("SOLFEGGIO_NOW: %q is not a time; write it as 2026-11-24T08:00:00Z", c.Now)
	}
	return func() time.Time { return fixed }, nil
}

// databases are where schools are kept.
func (c config) databases() ([]string, error) {
	list := strings.Fields(c.DatabaseURL)
	if len(list) == 0 {
		return nil, fmt.Errorf("SOLFEGGIO_DATABASE_URL: not set; name a PostgreSQL 15 or newer, or use make demo, which brings one up")
	}
	return list, nil
}

// owners are the addresses by which tables are made: with those, the program works with addresses that cannot become the owner.
func (c config) owners() ([]string, error) {
	if list := strings.Fields(c.OwnerURL); len(list) > 0 {
		return list, nil
	}
	return c.databases()
}

// owner is the one database that a backup is of.
func (c config) owner() (string, error) {
	list, err := c.owners()
	if err == nil && len(list) > 1 {
		err = fmt.Errorf("%d databases are named: name the one that is meant in SOLFEGGIO_OWNER_URL", len(list))
	}
	if err != nil {
		return "", err
	}
	return list[0], nil
}

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	var c config
	log := slog.New(slog.NewTextHandler(os.Stderr, nil))
	slog.SetDefault(log)
	root := &cobra.Command{
		Use: "solfeggio", Short: "Care of a school's instruments", SilenceUsage: true, SilenceErrors: true,
		PersistentPreRunE: func(*cobra.Command, []string) error { return env.Parse(&c) },
	}
	root.AddCommand(
		serveCommand(&c, log),
		demoCommand(&c, log),
		migrateCommand(&c),
		schoolCommand(&c, log),
		personCommand(&c, log),
		backupCommand(&c),
		restoreCommand(&c),
		calcCommand(),
		openapiCommand(),
		standinCommand(&c),
	)
	if err := root.ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, err)
		if coded, ok := err.(interface{ ExitCode() int }); ok {
			os.Exit(coded.ExitCode())
		}
		os.Exit(1)
	}
}
