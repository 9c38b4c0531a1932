package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"github.com/adrg/xdg"
	"github.com/spf13/cobra"

	"jevvo/internal/calc"
	"jevvo/internal/demo"
	"jevvo/internal/device"
	"jevvo/internal/exchange/still"
	"jevvo/internal/secrets"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/bench"
	"jevvo/internal/web"
	"jevvo/internal/web/frame"
)

// flags are what serve and demo have in common.
type flags struct {
	port  string
	data  string
	log   string
	scale string // port of a scale, "" for none
	any   bool   // user of this computer may use it
	snaps string // folder of daily snapshots, "" for none
	lan   bool   // other computers may come in
	cert  string // a certificate of one's own, with its key
	key   string
	names []string
}

func rootCommand() *cobra.Command {
	root := &cobra.Command{
		Use:           "jevvo",
		Short:         "Plan resin paintings: amounts, cups, clock and days",
		Version:       versionText(),
		SilenceErrors: true,
		SilenceUsage:  true,
	}
	root.AddCommand(serveCommand(), demoCommand(), calcCommand(), flowCommand(), backupCommand(), restoreCommand(), exportCommand(), importCommand(), checkCommand(), pairCommand(), passphraseCommand(), doctorCommand())
	return root
}

func (f *flags) add(c *cobra.Command, folder string) {
	c.Flags().StringVar(&f.port, "port", envOr("JEVVO_PORT", "8017"), "port on 127.0.0.1 to answer on, 0 for any free one ($JEVVO_PORT)")
	addData(c, &f.data, folder)
	f.addLAN(c)
	c.Flags().BoolVar(&f.any, "any-user", false, "let other users of this computer in")
	c.Flags().StringVar(&f.log, "log", envOr("JEVVO_LOG", "info"), "log level: debug, info, warn or error ($JEVVO_LOG)")
}

func envOr(key, value string) string {
	if v := os.Getenv(key); v != "" {
		return v
	}
	return value
}

// addData adds the flag of a data folder.
func addData(c *cobra.Command, data *string, folder string) {
	c.Flags().StringVar(data, "data", envOr("JEVVO_DATA", filepath.Join(xdg.DataHome, "jevvo", folder)), "data folder ($JEVVO_DATA)")
}

func serveCommand() *cobra.Command {
	var f flags
	c := &cobra.Command{
		Use: "serve", Short: "Open your studio in the browser", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return failed(serve(c, f, false)) },
	}
	f.add(c, "studio")
	c.Flags().StringVar(&f.snaps, "snapshots", os.Getenv("JEVVO_SNAPSHOTS"), "folder, on a stick or another disk, for a copy of the data every day ($JEVVO_SNAPSHOTS)")
	c.Flags().StringVar(&f.scale, "scale", os.Getenv("JEVVO_SCALE"), "serial port of a scale that sends its display, such as /dev/ttyUSB0@9600 ($JEVVO_SCALE)")
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
	slog.SetDefault(log) // for what has no logger of its own
	number, err := strconv.Atoi(f.port)
	if err != nil || number < 0 || number > 65535 {
		return fmt.Errorf("a port is a number between 0 and 65535, not %q", f.port)
	}
	if err := folderNamed(f.data); err != nil {
		return err
	}
	if err := f.lanFits(); err != nil {
		return err
	}
	listener, err := f.listen(number)
	if err != nil {
		return err
	}
	clock := device.NewSteadyClock()
	var devices *bench.Devices // a real studio begins without instruments
	if filled {
		devices = demo.Devices(clock.Now)
	}
	var port device.Port
	if f.scale != "" {
		if port, err = device.ParsePort(f.scale); err != nil {
			return errors.Join(err, listener.Close())
		}
		devices = &bench.Devices{}
	}
	lock, err := store.LockFolder(f.data)
	if err != nil {
		return errors.Join(err, listener.Close())
	}
	defer lock.Release()
	if err := layOut(ctx, f.data, clock, filled); err != nil {
		return errors.Join(err, listener.Close())
	}
	db, st, err := open(ctx, dataFile(f.data), f.data, clock, devices)
	if err != nil {
		return errors.Join(err, listener.Close())
	}
	defer func() {
		if err := db.Close(); err != nil {
			log.Error("close the data", "error", err)
		}
	}()
	if f.scale != "" {
		if err := plug(ctx, st, port, log); err != nil {
			return errors.Join(err, listener.Close())
		}
	}
	watched, stopWatching := context.WithCancel(ctx)
	watching := make(chan struct{})
	go func() {
		defer close(watching)
		watch(watched, st, db, f.snaps, clock, log)
	}()
	defer func() { stopWatching(); <-watching }() // before the data are closed
	o := frame.Options{Version: version, Demo: filled, Log: log, Clock: clock, AnyUser: f.any}
	if o.LAN, err = f.network(listener); err == nil {
		o.Key, err = f.screenKey()
	}
	if err != nil {
		return errors.Join(err, listener.Close())
	}
	server, err := web.New(st, o)
	if err != nil {
		return errors.Join(err, listener.Close())
	}
	f.say(c.OutOrStdout(), listener, o)
	return server.Serve(ctx, listener)
}

// plug connects the scale at a serial port, which reads to what the settings say.
func plug(ctx context.Context, st *studio.Studio, p device.Port, log *slog.Logger) error {
	set, err := st.Setup.Settings(ctx)
	if err != nil {
		return err
	}
	scale := device.NewLineScale(set.ScaleStep, time.Now)
	go scale.Serve(ctx, p, log)
	st.Bench.Devices().ConnectScale(scale, false)
	return nil
}

// dataFile is the database in a data folder; what is secret lies beside it.
func dataFile(folder string) string { return filepath.Join(folder, "jevvo.db") }

// patience is how long a page waits for the days to be planned anew before it
// shows the last ones.
const patience = 300 * time.Millisecond

// layOut makes a studio where there is none: whole under another name, and then in
// its place, so that a start that was cut off leaves nothing half laid out.
func layOut(ctx context.Context, folder string, clock *device.SteadyClock, filled bool) error {
	if _, err := os.Stat(dataFile(folder)); err == nil {
		return nil
	}
	dir, err := os.MkdirTemp(folder, ".new-*")
	if err != nil {
		return fmt.Errorf("lay out the studio: %w", err)
	}
	defer os.RemoveAll(dir)
	db, st, err := open(ctx, dataFile(dir), folder, clock, nil)
	if err != nil {
		return err
	}
	if filled {
		err = demo.Fill(ctx, st)
	}
	if err := errors.Join(err, db.Close()); err != nil {
		return err
	}
	return os.Rename(dataFile(dir), dataFile(folder))
}

func open(ctx context.Context, file, folder string, clock *device.SteadyClock, devices *bench.Devices) (*store.Store, *studio.Studio, error) {
	db, err := store.Open(ctx, file)
	if err != nil {
		return nil, nil, err
	}
	st, err := studio.New(ctx, db, studio.Options{
		Now: clock.Now, Devices: devices, Patience: patience,
		Secrets: &secrets.File{Path: secretsFile(folder)},
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
// writes the letter of the day, keeps a snapshot, and the day's plan to compare with.
func watch(ctx context.Context, st *studio.Studio, db *store.Store, snapshots string, clock *device.SteadyClock, log *slog.Logger) {
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
		follow(ctx, st, clock, log)
		if snapshots != "" {
			if _, err := db.Snapshot(ctx, snapshots, clock.Now().Local()); err != nil && ctx.Err() == nil {
				log.Error("daily snapshot", "error", err)
			}
		}
		if err := st.Access.Keep(ctx); err != nil && ctx.Err() == nil {
			log.Error("keep who was there", "error", err)
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

// follow goes by a computer's clock that was set, once nothing is wet that is timed.
func follow(ctx context.Context, st *studio.Studio, clock *device.SteadyClock, log *slog.Logger) {
	by := clock.Jumped()
	if by == 0 {
		return
	}
	wet, err := st.Bench.Log().Running(ctx)
	if err != nil || len(wet) > 0 {
		return
	}
	clock.Follow()
	log.Info("the computer's clock was set", "by", by)
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

// stillPoints is how many points a picture has on its longer side.
const stillPoints = 1024

func flowCommand() *cobra.Command {
	var out string
	c := &cobra.Command{
		Use: "flow SCENE.json", Short: "Reckon what a film on a board does, and show it as a picture; - reads from standard input", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			in := io.NopCloser(c.InOrStdin())
			if args[0] != "-" {
				f, err := os.Open(args[0])
				if err != nil {
					return failed(err)
				}
				in = f
			}
			defer in.Close()
			answer, m, wide, err := calc.FlowPicture(c.Context(), in, stillPoints)
			if err != nil {
				return failed(err)
			}
			if out != "" {
				data, err := still.PNG(still.Board{Picture: m, Wide: wide, Words: strings.TrimSuffix(filepath.Base(args[0]), filepath.Ext(args[0]))})
				if err == nil {
					err = os.WriteFile(out, data, 0o644)
				}
				if err != nil {
					return failed(err)
				}
			}
			fmt.Fprintln(c.OutOrStdout(), string(answer))
			return nil
		},
	}
	c.Flags().StringVar(&out, "out", "", "PNG file of the board at the last sample")
	return c
}
