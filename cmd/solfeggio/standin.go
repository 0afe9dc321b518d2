package main

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"time"

	"github.com/emersion/go-smtp"
	"github.com/spf13/cobra"

	"solfeggio/internal/standin"
)

// standinCommand serves small stand-ins for what a school has around it.
func standinCommand(c *config) *cobra.Command {
	cmd := &cobra.Command{Use: "standin", Short: "Serve a simulated neighbour of the school"}
	var address string
	var seed uint64
	var workday time.Duration
	shop := &cobra.Command{
		Use: "shop", Short: "A simulated repair shop; name it to the program with SOLFEGGIO_SHOP_URL", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			now, err := c.clock()
			if err != nil {
				return err
			}
			if workday < 0 {
				return badInput{fmt.Errorf("day: %v is no length of a day", workday)}
			}
			listener, err := net.Listen("tcp", address)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "Simulated shop: http://%s (its interface: /openapi.yaml)\n", listener.Addr())
			return serveUntil(cmd.Context(), listener, (&standin.Shop{Seed: seed, Day: workday, Now: now}).Handler())
		},
	}
	shop.Flags().StringVar(&address, "address", "127.0.0.1:8090", "where it listens")
	shop.Flags().Uint64Var(&seed, "seed", 1, "decides what it quotes and how long it takes")
	shop.Flags().DurationVar(&workday, "day", 24*time.Hour, "how long one of its working days takes; 0 when all is done at once")
	var post string
	mail := &cobra.Command{
		Use: "mail", Short: "A simulated mail server; name it to the program with SOLFEGGIO_MAIL_URL", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			listener, err := net.Listen("tcp", post)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "Simulated mail: smtp://%s?from=solfeggio@simulated.invalid\n", listener.Addr())
			server := (&standin.Mail{Shows: cmd.OutOrStdout()}).Server()
			go func() {
				<-cmd.Context().Done()
				_ = server.Close()
			}()
			if err := server.Serve(listener); !errors.Is(err, smtp.ErrServerClosed) {
				return err
			}
			return nil
		},
	}
	mail.Flags().StringVar(&post, "address", "127.0.0.1:8025", "where it listens")
	cmd.AddCommand(shop, mail)
	return cmd
}

// serveUntil serves until ctx ends.
func serveUntil(ctx context.Context, listener net.Listener, handler http.Handler) error {
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute, WriteTimeout: time.Minute}
	go func() {
		<-ctx.Done()
		_ = server.Close()
	}()
	if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}

// demoWorkday is how long a working day of the demo's simulated shop takes, so that one sees something come of it.
const demoWorkday = 20 * time.Second

// besideTheDemo starts a simulated shop for the demo, unless another is named. With a clock that stands still its days take no time.
func besideTheDemo(c *config) (stop func(), err error) {
	if c.Shop != "" {
		return func() {}, nil
	}
	now, err := c.clock()
	if err != nil {
		return nil, err
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	shop := &standin.Shop{Seed: 1, Day: demoWorkday, Now: now}
	if c.Now != "" {
		shop.Day = 0
	}
	c.Shop = "http://" + listener.Addr().String()
	ctx, stop := context.WithCancel(context.Background())
	go func() { _ = serveUntil(ctx, listener, shop.Handler()) }() // ends with the demo
	return stop, nil
}
