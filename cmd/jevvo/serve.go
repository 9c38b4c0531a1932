package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"runtime/debug"
	"strconv"
	"sync"
	"time"

	"github.com/spf13/cobra"

	"jevvo/internal/core/preview"
	"jevvo/internal/demo"
	"jevvo/internal/device"
	"jevvo/internal/msg"
	"jevvo/internal/secrets"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/bench"
	"jevvo/internal/web"
	"jevvo/internal/web/frame"
)

// check returns what is wrong with the flags, and the port as a number.
func (f *flags) check() (port int, err error) {
	port, err = strconv.Atoi(f.port)
	if err != nil || port < 0 || port > 65535 {
		return 0, fmt.Errorf("a port is a number between 0 and 65535, not %q", f.port)
	}
	if err := folderNamed(f.data); err != nil {
		return 0, err
	}
	return port, f.lanFits()
}

// logger logs to the standard error from the level that was asked for.
func (f *flags) logger(to io.Writer) (*slog.Logger, error) {
	var level slog.Level
	if err := level.UnmarshalText([]byte(f.log)); err != nil {
		return nil, fmt.Errorf("the log level is debug, info, warn or error, not %q", f.log)
	}
	return slog.New(slog.NewTextHandler(to, &slog.HandlerOptions{Level: level})), nil
}

func serve(c *cobra.Command, f flags, filled bool) error {
	log, err := f.logger(c.ErrOrStderr())
	if err != nil {
		return err
	}
	slog.SetDefault(log) // for what has no logger of its own
	number, err := f.check()
	if err != nil {
		return err
	}
	listener, err := f.listen(number)
	if err != nil {
		return err
	}
	if err := serveOn(c.Context(), c.OutOrStdout(), listener, f, filled, log); err != nil {
		return errors.Join(err, ignoreClosed(listener.Close()))
	}
	return nil
}

func ignoreClosed(err error) error {
	if errors.Is(err, net.ErrClosed) {
		return nil
	}
	return err
}

// serveOn opens the studio and answers on a listener until ctx ends.
func serveOn(ctx context.Context, out io.Writer, listener net.Listener, f flags, filled bool, log *slog.Logger) error {
	clock := device.NewSteadyClock()
	var devices *bench.Devices // a real studio begins without instruments
	if filled {
		devices = demo.Devices(clock.Now)
	}
	var port device.Port
	var err error
	if f.cells < preview.Least || f.cells > preview.Usual {
		return fmt.Errorf("--preview-cells ($JEVVO_PREVIEW_CELLS) lies between %d and %d", preview.Least, preview.Usual)
	}
	if f.scale != "" {
		if port, err = device.ParsePort(f.scale); err != nil {
			return err
		}
		devices = &bench.Devices{}
	}
	lock, err := store.LockFolder(f.data)
	if err != nil {
		return err
	}
	defer lock.Release()
	if err := layOut(ctx, f.data, clock, filled, !f.short); err != nil {
		return err
	}
	db, st, err := open(ctx, store.Open, dataFile(f.data), f.data, clock.Now, devices)
	if err != nil {
		return err
	}
	defer func() {
		if err := db.Close(); err != nil {
			log.Error("close the data", "error", err)
		}
	}()
	st.Preview.Cells = f.cells
	ctx, end := context.WithCancelCause(ctx)
	var beside sync.WaitGroup
	defer func() { end(nil); beside.Wait() }() // before the data are closed
	if f.scale != "" {
		scale, err := plug(ctx, st)
		if err != nil {
			return err
		}
		beside.Go(func() { scale.Serve(ctx, port, log) })
	}
	for _, c := range chores(st, db, f.snaps, clock, log) {
		beside.Go(func() { c.watch(ctx, log) })
	}
	if db.Unchecked {
		beside.Go(func() {
			if err := db.Sound(ctx); err != nil && ctx.Err() == nil {
				end(err)
			}
		})
	}
	o := frame.Options{Version: version, Demo: filled, Log: log, Clock: clock, AnyUser: f.any}
	if o.LAN, err = f.network(listener); err == nil {
		o.Key, err = f.screenKey()
	}
	if err != nil {
		return err
	}
	server, err := web.New(st, o)
	if err != nil {
		return err
	}
	f.say(out, listener, o)
	if err := server.Serve(ctx, listener); err != nil {
		return err
	}
	if cause := context.Cause(ctx); cause != nil && !errors.Is(cause, context.Canceled) {
		return cause
	}
	return nil
}

// plug connects a scale that reads to what the settings say.
func plug(ctx context.Context, st *studio.Studio) (*device.LineScale, error) {
	set, err := st.Setup.Settings(ctx)
	if err != nil {
		return nil, err
	}
	scale := device.NewLineScale(set.ScaleStep, time.Now)
	st.Bench.Devices().ConnectScale(scale, false)
	return scale, nil
}

// dataFile is the database in a data folder; what is secret lies beside it.
func dataFile(folder string) string { return filepath.Join(folder, "jevvo.db") }

// patience is how long a page waits for the days to be planned anew before it
// shows the last ones.
const patience = 300 * time.Millisecond

// layOut makes a studio where there is none: whole under another name, and then in
// its place, so that a start that was cut off leaves nothing half laid out. A demo may have
// a past behind it.
func layOut(ctx context.Context, folder string, clock *device.SteadyClock, filled, past bool) error {
	if _, err := os.Stat(dataFile(folder)); err == nil {
		return nil
	}
	dir, err := os.MkdirTemp(folder, ".new-*")
	if err != nil {
		return fmt.Errorf("lay out the studio: %w", err)
	}
	defer os.RemoveAll(dir)
	back := &demo.Travel{Real: clock.Now}
	db, st, err := open(ctx, store.Draft, dataFile(dir), folder, back.Now, nil)
	if err != nil {
		return err
	}
	if filled {
		defer debug.SetGCPercent(debug.SetGCPercent(400)) // eight months in seconds leave much behind
	}
	if filled && past {
		err = demo.Fill(ctx, st, back)
	} else if filled {
		err = demo.Fill(ctx, st, nil)
	}
	if err := errors.Join(err, db.Close()); err != nil {
		return err
	}
	if err := store.Sync(dataFile(dir)); err != nil {
		return err
	}
	return os.Rename(dataFile(dir), dataFile(folder))
}

// open opens a studio over a database, by store.Open or store.Draft.
func open(ctx context.Context, how func(context.Context, string) (*store.Store, error), file, folder string,
	now func() time.Time, devices *bench.Devices) (*store.Store, *studio.Studio, error) {
	db, err := how(ctx, file)
	if err != nil {
		return nil, nil, err
	}
	st, err := studioOf(ctx, db, folder, now, devices)
	if err != nil {
		return nil, nil, errors.Join(err, db.Close())
	}
	return db, st, nil
}

// studioOf is the studio of a database, with what its folder holds besides.
func studioOf(
	ctx context.Context, db *store.Store, folder string, now func() time.Time, devices *bench.Devices,
) (*studio.Studio, error) {
	return studio.New(ctx, db, studio.Options{
		Now: now, Devices: devices, Patience: patience,
		Secrets: &secrets.File{Path: secretsFile(folder)},
		Mail:    device.Post{Outbox: filepath.Join(folder, "outbox")},
	})
}

// watchEvery is how often what nobody asks for is done.
const watchEvery = 30 * time.Second

// A chore is something nobody asks for. Each has a time of its own: a letter that takes
// a minute to be sent keeps no sensor from being read.
type chore struct {
	name string
	do   func(context.Context) error
	last bool // it is done once more at the end
}

// chores are the room sensor, the letter of the day, the clock, a snapshot, who was
// there, and the day's plan to compare with.
func chores(st *studio.Studio, db *store.Store, snapshots string, clock *device.SteadyClock, log *slog.Logger) []chore {
	out := []chore{
		{name: "room sensor", do: func(ctx context.Context) error {
			r, err := st.Bench.LookAtRoom(ctx)
			if err == nil && r.Words != nil {
				log.Warn("room sensor", "says", r.Words.In(msg.English))
			}
			return err
		}},
		{name: "reminder", do: st.Mail.Remind},
		{name: "clock", do: func(ctx context.Context) error { follow(ctx, st, clock, log); return nil }},
		{name: "keep who was there", do: st.Access.Keep, last: true},
		{name: "keep the day's plan", do: st.Agenda.KeepDay},
	}
	if snapshots != "" {
		out = append(out, chore{name: "daily snapshot", do: func(ctx context.Context) error {
			_, err := db.Snapshot(ctx, snapshots, clock.Now().Local())
			return err
		}})
	}
	return out
}

// watch does a chore again and again until ctx ends.
func (c chore) watch(ctx context.Context, log *slog.Logger) {
	again := time.NewTicker(watchEvery)
	defer again.Stop()
	for {
		if err := c.do(ctx); err != nil && ctx.Err() == nil {
			log.Error(c.name, "error", err)
		}
		select {
		case <-ctx.Done():
			if c.last {
				if err := c.do(context.WithoutCancel(ctx)); err != nil {
					log.Error(c.name, "error", err)
				}
			}
			return
		case <-again.C:
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
