package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"solfeggio/internal/app"
	"solfeggio/internal/app/school"
	"solfeggio/internal/demo"
	"solfeggio/internal/mailing"
	"solfeggio/internal/repairshop"
	"solfeggio/internal/store"
	"solfeggio/internal/web"
	frontend "solfeggio/web"
)

func serveCommand(c *config, log *slog.Logger) *cobra.Command {
	return &cobra.Command{Use: "serve", Short: "Serve the program", Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error {
		return serve(cmd.Context(), *c, log, nil)
	}}
}

func demoCommand(c *config, log *slog.Logger) *cobra.Command {
	return &cobra.Command{
		Use:   "demo",
		Short: "Make the demo school if it is not there, and serve it",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			stop, err := besideTheDemo(c)
			if err != nil {
				return err
			}
			defer stop()
			return serve(cmd.Context(), *c, log, func(ctx context.Context, db *store.DB, now time.Time) error {
				if err := demo.Seed(ctx, db, now, log); err != nil {
					return err
				}
				fmt.Printf(
					"\n  Solfeggio: http://%s\n  Sign in:   %s   password: %s\n  A helper:  %s   password: %s\n\n",
					c.Address,
					demo.DirectorEmail,
					demo.Password,
					demo.HelperEmail,
					demo.Password,
				)
				return nil
			})
		},
	}
}

// serve migrates, prepares and serves until ctx ends.
func serve(ctx context.Context, c config, log *slog.Logger, prepare func(context.Context, *store.DB, time.Time) error) error {
	db, now, err := open(ctx, c)
	if err != nil {
		return err
	}
	defer db.Close()
	listener, err := net.Listen("tcp", c.Address)
	if err != nil {
		return err
	}
	if prepare != nil {
		if err := prepare(ctx, db, now()); err != nil {
			return err
		}
	}
	var proxies []string
	for _, p := range c.Proxies {
		proxies = append(proxies, p.String())
	}
	rooms := app.New(db, now, log)
	if c.Shop != "" {
		rooms.Shop.Service = repairshop.NewClient(c.Shop)
	}
	if err := c.setUpReach(rooms); err != nil {
		return err
	}
	handler, stop := web.New(rooms, frontend.Files(), log, web.Options{SecureCookies: c.SecureCookies, TrustedProxies: proxies})
	defer stop()
	server := &http.Server{
		Handler:           handler,
		ReadHeaderTimeout: 10 * time.Second,
		MaxHeaderBytes:    web.MaxHeaderBytes,
		ReadTimeout:       time.Minute,
		WriteTimeout:      time.Minute,
		IdleTimeout:       2 * time.Minute,
	}
	go func() {
		<-ctx.Done()
		grace, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		defer cancel()
		_ = server.Shutdown(grace)
	}()
	if c.Metrics != "" {
		watched, err := net.Listen("tcp", c.Metrics)
		if err != nil {
			return err
		}
		defer watched.Close()
		go func() {
			_ = (&http.Server{Handler: web.Metrics(), ReadHeaderTimeout: 10 * time.Second}).Serve(watched) // ends with its listener
		}()
	}
	log.Info("serving", "address", "http://"+listener.Addr().String())
	if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}

// setUpReach tells the program under which address people come, and lets letters go by the mail server that was named.
func (c config) setUpReach(rooms *app.App) error {
	if c.Public == "" && c.Mail == "" {
		return nil
	}
	if public, err := url.Parse(c.Public); err != nil || public.Host == "" || public.Scheme != "https" && public.Scheme != "http" {
		return fmt.Errorf("SOLFEGGIO_PUBLIC_URL: %q is no address that stands in a letter; name the one under which people come, as https://…", c.Public)
	}
	rooms.Schools.Address = strings.TrimSuffix(c.Public, "/")
	switch {
	case c.Mail == "":
		return nil
	case school.OnThisMachineOnly(rooms.Schools.Address):
		return fmt.Errorf("SOLFEGGIO_PUBLIC_URL: %q can be opened on this machine only, and letters go to people elsewhere", c.Public)
	}
	server, err := mailing.New(c.Mail)
	if err != nil {
		return fmt.Errorf("SOLFEGGIO_MAIL_URL: %w", err)
	}
	rooms.Access.Mail = server
	return nil
}

// open brings the database up to date and makes a pool on it, and the clock.
func open(ctx context.Context, c config) (*store.DB, func() time.Time, error) {
	urls, err := c.databases()
	if err != nil {
		return nil, nil, err
	}
	now, err := c.clock()
	if err != nil {
		return nil, nil, err
	}
	if err := migrate(ctx, c); err != nil {
		return nil, nil, err
	}
	db, err := store.Open(urls[0], urls[1:]...)
	return db, now, err
}

func migrate(ctx context.Context, c config) error {
	owners, err := c.owners()
	if err != nil {
		return err
	}
	for _, owner := range owners {
		if err := store.Migrate(ctx, owner); err != nil {
			return err
		}
	}
	return nil
}

func migrateCommand(c *config) *cobra.Command {
	return &cobra.Command{
		Use:   "migrate",
		Short: "Bring the database up to date",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			return migrate(cmd.Context(), *c)
		},
	}
}

func openapiCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "openapi",
		Short: "Write the OpenAPI document",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			text, err := web.OpenAPI()
			if err != nil {
				return err
			}
			_, err = cmd.OutOrStdout().Write(append(text, '\n'))
			return err
		},
	}
}
