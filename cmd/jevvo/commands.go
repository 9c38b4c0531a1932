package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/adrg/xdg"
	"github.com/spf13/cobra"

	"jevvo/internal/calc"
	"jevvo/internal/demo"
	"jevvo/internal/device"
	"jevvo/internal/secrets"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/bench"
	"jevvo/internal/web"
	"jevvo/internal/web/frame"
)

// flags are what serve and demo have in common.
type flags struct {
	port int
	data string
	log  string
}

func rootCommand() *cobra.Command {
	root := &cobra.Command{
		Use:           "jevvo",
		Short:         "Plan resin paintings: amounts, cups, clock and days",
		Version:       version,
		SilenceErrors: true,
		SilenceUsage:  true,
	}
	root.AddCommand(serveCommand(), demoCommand(), calcCommand(), backupCommand())
	return root
}

func (f *flags) add(c *cobra.Command, folder string) {
	c.Flags().IntVar(&f.port, "port", envInt("JEVVO_PORT", 8017), "port on 127.0.0.1 to answer on, 0 for any free one ($JEVVO_PORT)")
	c.Flags().StringVar(&f.data, "data", envOr("JEVVO_DATA", filepath.Join(xdg.DataHome, "jevvo", folder)), "data folder ($JEVVO_DATA)")
	c.Flags().StringVar(&f.log, "log", envOr("JEVVO_LOG", "info"), "log level: debug, info, warn or error ($JEVVO_LOG)")
}

func envOr(key, value string) string {
	if v := os.Getenv(key); v != "" {
		return v
	}
	return value
}

func envInt(key string, value int) int {
	if v, err := strconv.Atoi(os.Getenv(key)); err == nil {
		return v
	}
	return value
}

func serveCommand() *cobra.Command {
	var f flags
	c := &cobra.Command{
		Use: "serve", Short: "Open your studio in the browser", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return failed(serve(c, f, false)) },
	}
	f.add(c, "studio")
	return c
}

func demoCommand() *cobra.Command {
	var f flags
	c := &cobra.Command{
		Use: "demo", Short: "Open a studio filled with made-up pieces, apart from your own", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return failed(serve(c, f, true)) },
	}
	f.add(c, "demo")
	return c
}

func serve(c *cobra.Command, f flags, filled bool) error {
	ctx := c.Context()
	var level slog.Level
	if err := level.UnmarshalText([]byte(f.log)); err != nil {
		return fmt.Errorf("the log level is debug, info, warn or error, not %q", f.log)
	}
	log := slog.New(slog.NewTextHandler(c.ErrOrStderr(), &slog.HandlerOptions{Level: level}))
	if f.port < 0 || f.port > 65535 {
		return fmt.Errorf("a port is between 0 and 65535, not %d", f.port)
	}
	listener, err := net.Listen("tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(f.port)))
	if err != nil {
		if errors.Is(err, syscall.EADDRINUSE) {
			return fmt.Errorf("port %d is busy, perhaps with another Jevvo; choose one with --port, for example --port %d", f.port, f.port+1)
		}
		return fmt.Errorf("answer on port %d: %w", f.port, err)
	}
	clock := device.NewSteadyClock()
	var devices *bench.Devices // a real studio begins without instruments
	if filled {
		devices = demo.Devices(ctx, clock.Now)
	}
	db, st, err := open(ctx, f.data, clock, devices)
	if err != nil {
		return errors.Join(err, listener.Close())
	}
	defer func() {
		if err := db.Close(); err != nil {
			log.Error("close the data", "error", err)
		}
	}()
	if filled {
		if err := demo.Fill(ctx, st); err != nil {
			return errors.Join(err, listener.Close())
		}
	}
	watched, stopWatching := context.WithCancel(ctx)
	watching := make(chan struct{})
	go func() {
		defer close(watching)
		watch(watched, st, log)
	}()
	defer func() { stopWatching(); <-watching }() // before the data are closed
	server, err := web.New(st, frame.Options{Version: version, Demo: filled, Log: log, Clock: clock})
	if err != nil {
		return errors.Join(err, listener.Close())
	}
	fmt.Fprintf(c.OutOrStdout(), "Jevvo is open at http://%s/ (data in %s). Stop with Ctrl-C.\n", listener.Addr(), f.data)
	return server.Serve(ctx, listener)
}

// dataFile is the database in a data folder; what is secret lies beside it.
func dataFile(folder string) string { return filepath.Join(folder, "jevvo.db") }

// patience is how long a page waits for the days to be planned anew before it
// shows the last ones.
const patience = 300 * time.Millisecond

func open(ctx context.Context, folder string, clock *device.SteadyClock, devices *bench.Devices) (*store.Store, *studio.Studio, error) {
	db, err := store.Open(ctx, dataFile(folder))
	if err != nil {
		return nil, nil, err
	}
	st, err := studio.New(ctx, db, studio.Options{
		Now: clock.Now, Devices: devices, Patience: patience,
		Secrets: &secrets.File{Path: filepath.Join(folder, "secrets.json")},
		Mail:    device.Post{Outbox: filepath.Join(folder, "outbox")},
	})
	if err != nil {
		return nil, nil, errors.Join(err, db.Close())
	}
	return db, st, nil
}

// watchEvery is how often the room sensor is read.
const watchEvery = 30 * time.Second

// watch does what nobody asks for until ctx ends: it reads the room sensor,
// writes the letter of the day, and keeps the day's plan to compare with.
func watch(ctx context.Context, st *studio.Studio, log *slog.Logger) {
	look := time.NewTicker(watchEvery)
	defer look.Stop()
	for {
		if r, err := st.Bench.LookAtRoom(ctx); err != nil && ctx.Err() == nil {
			log.Error("room sensor", "error", err)
		} else if r.Words != "" {
			log.Warn("room sensor", "says", r.Words)
		}
		if err := st.Post.Remind(ctx); err != nil && ctx.Err() == nil {
			log.Error("reminder", "error", err)
		}
		if err := st.Agenda.KeepDay(ctx); err != nil && ctx.Err() == nil {
			log.Error("keep the day's plan", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-look.C:
		}
	}
}

func calcCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "calc [name] < in.json",
		Short: "Reckon one sum: JSON in, JSON out; without a name lists them",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if len(args) == 0 {
				fmt.Fprintln(c.OutOrStdout(), strings.Join(calc.Names(), "\n"))
				return nil
			}
			if _, ok := calc.Find(args[0]); !ok {
				return &exitError{code: exitUsage, err: fmt.Errorf("there is no calculator %q; jevvo calc lists them", args[0])}
			}
			out, err := calc.Run(c.Context(), args[0], c.InOrStdin())
			if err == nil {
				fmt.Fprintln(c.OutOrStdout(), string(out))
				return nil
			}
			var p *calc.Problem
			if errors.As(err, &p) {
				fmt.Fprintln(c.OutOrStdout(), string(p.JSON()))
			}
			return &exitError{code: exitFailed, quiet: p != nil, err: err}
		},
	}
}

func backupCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use: "backup FILE", Short: "Write a consistent copy of the studio's data, also while it is open", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if _, err := os.Stat(dataFile(data)); err != nil {
				return failed(fmt.Errorf("there is no studio in %s", data))
			}
			db, err := store.Open(c.Context(), dataFile(data))
			if err != nil {
				return failed(err)
			}
			return failed(errors.Join(db.Backup(c.Context(), args[0]), db.Close()))
		},
	}
	c.Flags().StringVar(&data, "data", envOr("JEVVO_DATA", filepath.Join(xdg.DataHome, "jevvo", "studio")), "data folder ($JEVVO_DATA)")
	return c
}
