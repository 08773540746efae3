package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"uzzel/core/period"
	"uzzel/internal/app"
	"uzzel/internal/demo"
	"uzzel/internal/httpapi"
	"uzzel/internal/nightly"
	"uzzel/internal/store"
	"uzzel/web"
)

type serveFlags struct {
	addr, db, today, metrics, proxy, watch string
	secure, reset                          bool
}

func (f *serveFlags) bind(c *cobra.Command, db string) {
	c.Flags().StringVar(&f.addr, "addr", env("ADDR", "127.0.0.1:8080"), "address to serve on (or ADDR)")
	dataFile(c, &f.db, db)
	c.Flags().StringVar(&f.today, "today", env("TODAY", ""), "fix the day, 2026-05-14 (or TODAY)")
	c.Flags().BoolVar(
		&f.secure,
		"secure-cookies",
		false,
		"send cookies over HTTPS only, and tell browsers to keep to HTTPS",
	)
	c.Flags().StringVar(
		&f.metrics,
		"metrics",
		env("METRICS", ""),
		"address to serve /metrics on, for those who look after the server; off unless set (or METRICS)",
	)
	c.Flags().StringVar(
		&f.watch,
		"watch",
		env("WATCH", ""),
		"folder whose files are brought in as they come, each as the last with its columns was (or WATCH)",
	)
	c.Flags().StringVar(
		&f.proxy,
		"proxy",
		env("PROXY", ""),
		"network of the proxy that requests come through, 10.0.0.0/8; its X-Forwarded-For is believed (or PROXY)",
	)
}

// proxies reads the network of the proxy, nil for none.
func (f *serveFlags) proxies() (*net.IPNet, error) {
	if f.proxy == "" {
		return nil, nil
	}
	_, network, err := net.ParseCIDR(f.proxy)
	if err != nil {
		return nil, fmt.Errorf("--proxy: %w", err)
	}
	return network, nil
}

// ours is the data file where none is named.
const ours = "data/uzzel.db"

// dataFile lets a command be told which data file it is about.
func dataFile(c *cobra.Command, db *string, otherwise string) {
	c.Flags().StringVar(db, "db", env("DB", otherwise), "data file (or DB)")
}

func env(name, otherwise string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return otherwise
}

func serveCommand() *cobra.Command {
	var f serveFlags
	c := &cobra.Command{
		Use:   "serve",
		Short: "Serve the application",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) (err error) {
			release, err := store.Serve(f.db)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, release()) }()
			return serve(cmd.Context(), f, "")
		},
	}
	f.bind(c, ours)
	return c
}

func demoCommand() *cobra.Command {
	var f serveFlags
	c := &cobra.Command{
		Use:   "demo",
		Short: "Serve the demo company, making it where it is not there yet",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			return runDemo(cmd.Context(), f)
		},
	}
	f.bind(c, "data/demo.db")
	c.Flags().BoolVar(&f.reset, "reset", false, "make the demo's data anew and leave")
	return c
}

func runDemo(ctx context.Context, f serveFlags) (err error) {
	release, err := store.Serve(f.db)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, release()) }()
	if f.reset {
		if err := demo.Remove(f.db); err != nil {
			return err
		}
	}
	today := period.Day(time.Now().Date())
	if f.today != "" {
		if today, err = period.ParseDay(f.today); err != nil {
			return fmt.Errorf("--today: %w", err)
		}
	}
	made, err := demo.Ensure(ctx, f.db, today, 1)
	if err != nil {
		return err
	}
	if made {
		fmt.Println("Made the demo company.")
	}
	if f.reset {
		return nil
	}
	return serve(ctx, f, demo.Password)
}

func serve(ctx context.Context, f serveFlags, demoPassword string) (err error) {
	s, err := store.Open(f.db)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	ctx, stop := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM)
	defer stop()
	clock, err := app.Clock(s, f.today)
	if err != nil {
		return fmt.Errorf("--today: %w", err)
	}
	log := slog.New(slog.NewJSONHandler(os.Stderr, nil))
	s.Failed = func(err error) { log.Error("records", "error", err) }
	a, err := app.New(s, clock, log)
	if err != nil {
		return err
	}
	a.SetUp.Demo = func(ctx context.Context) error { return demo.Fill(ctx, s, clock(), 1) }
	// As many questions are worked out at a time as there are processors. What else is asked for, and what is heard
	// from the network, does not wait for those: the system's scheduler lets it in between.
	runtime.GOMAXPROCS(runtime.GOMAXPROCS(0) + 2)
	front, err := web.Front()
	if err != nil {
		return err
	}
	proxy, err := f.proxies()
	if err != nil {
		return err
	}
	cfg := httpapi.Config{
		Log:      log,
		Sessions: s.Sessions(),
		Front:    front,
		Demo:     demoPassword,
		Secure:   f.secure,
		Proxy:    proxy,
	}
	if f.metrics != "" {
		where, end, err := measured(a, &cfg, f.metrics)
		if err != nil {
			return err
		}
		defer end()
		fmt.Printf("Metrics are at http://%s/metrics\n", where)
	}
	handler, err := httpapi.New(a, cfg)
	if err != nil {
		return err
	}
	listener, err := net.Listen("tcp", f.addr)
	if errors.Is(err, syscall.EADDRINUSE) {
		return fmt.Errorf("the address %s is taken; set ADDR to another, such as ADDR=127.0.0.1:8099", f.addr)
	}
	if err != nil {
		return err
	}
	server := &http.Server{
		Handler:           handler,
		ReadHeaderTimeout: 10 * time.Second,
		ReadTimeout:       30 * time.Second,
		WriteTimeout:      90 * time.Second,
		IdleTimeout:       2 * time.Minute,
	}
	server.RegisterOnShutdown(a.Feed.Close)
	if err := announce(ctx, a, listener.Addr(), demoPassword); err != nil {
		return err
	}
	done := make(chan error, 1)
	go func() { done <- server.Serve(listener) }()
	go s.Follow(ctx, 2*time.Second, func() {
		if err := a.Reread(ctx); err != nil && ctx.Err() == nil {
			log.Error("reading settings", "error", err)
		}
	}, func(err error) { log.Error("data file", "error", err) })
	go tidy(ctx, s, log)
	go a.Watch(ctx, 2*time.Second)
	go func() {
		if err := a.Sends.Run(ctx); err != nil && ctx.Err() == nil {
			log.Error("deliveries", "error", err)
		}
	}()
	if f.watch != "" {
		if _, err := nightly.Names(f.watch); err != nil {
			return fmt.Errorf("--watch: %w", err)
		}
		go nightly.Watch(ctx, a, f.watch, 10*time.Second, log)
	}
	go func() {
		if err := s.Warm(ctx); err != nil && ctx.Err() == nil {
			log.Error("loading records", "error", err)
		}
	}()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
	}
	log.Info("stopping; writes under way are finished")
	end, cancel := context.WithTimeout(context.Background(), 20*time.Second)
	defer cancel()
	return server.Shutdown(end)
}

// tidy takes away what was deleted more than 30 days ago, at once and every day.
func tidy(ctx context.Context, s *store.Store, log *slog.Logger) {
	for tick := time.NewTicker(24 * time.Hour); ; {
		if err := s.Purge(ctx); err != nil && ctx.Err() == nil {
			log.Error("purging what was deleted", "error", err)
		}
		select {
		case <-ctx.Done():
			tick.Stop()
			return
		case <-tick.C:
		}
	}
}

// announce says where the server is; where it is not set up yet, with the address that sets it up.
func announce(ctx context.Context, a *app.App, addr net.Addr, password string) error {
	fmt.Printf("Uzzel is at http://%s\n", addr)
	key, err := a.SetUp.Key(ctx)
	if err != nil {
		return err
	}
	if key != "" {
		fmt.Printf("It is not set up yet. Open this address once, within a week:\n  http://%s/begin#%s\n", addr, key)
	}
	if password == "" {
		return nil
	}
	list, err := a.People.Accounts(ctx)
	if err != nil {
		return err
	}
	fmt.Printf("Sign in as one of these, with the password “%s”:\n", password)
	for _, a := range list {
		fmt.Printf("  %-24s %-18s %-12s %s\n", a.Email, a.Name, a.Team, a.Role)
	}
	return nil
}
