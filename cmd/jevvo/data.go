package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"jevvo/internal/core/units"
	"jevvo/internal/device"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/archive"
	"jevvo/internal/studio/audit"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/share"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
)

// folderNamed reports a data folder that has no name.
func folderNamed(folder string) error {
	if strings.TrimSpace(folder) == "" {
		return errors.New("--data needs the name of a folder")
	}
	return nil
}

// hasStudio reports a folder in which there is none.
func hasStudio(folder string) error {
	if err := folderNamed(folder); err != nil {
		return err
	}
	if _, err := os.Stat(dataFile(folder)); err != nil {
		return fmt.Errorf("there is no studio in %s", folder)
	}
	return nil
}

func backupCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use:   "backup FILE",
		Short: "Write a consistent copy of the studio's data, also while it is open",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if err := hasStudio(data); err != nil {
				return failed(err)
			}
			db, err := store.OpenToRead(c.Context(), dataFile(data))
			if err != nil {
				return failed(err)
			}
			return failed(errors.Join(db.Backup(c.Context(), args[0]), db.Close()))
		},
	}
	addData(c, &data, "studio")
	return c
}

func restoreCommand() *cobra.Command {
	var data string
	var how placing
	c := &cobra.Command{
		Use:   "restore FILE",
		Short: "Replace the studio's data with a backup; the old data is kept beside it",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			return failed(inPlace(c, data, how, args[0], func(string) (string, error) { return args[0], nil }))
		},
	}
	addData(c, &data, "studio")
	how.add(c)
	return c
}

func checkCommand() *cobra.Command {
	var data string
	var mend bool
	c := &cobra.Command{
		Use: "check", Short: "Check all data and report what is wrong", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return failed(check(c, data, mend, c.OutOrStdout())) },
	}
	addData(c, &data, "studio")
	c.Flags().BoolVar(&mend, "mend", false, "make the index of the journal anew")
	return c
}

func check(c *cobra.Command, data string, mend bool, out io.Writer) (err error) {
	if err := hasStudio(data); err != nil {
		return err
	}
	if mend {
		if err := mendIndex(c.Context(), dataFile(data)); err != nil {
			return err
		}
	}
	db, err := store.OpenToRead(c.Context(), dataFile(data))
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	if err := unreadable(c.Context(), db, data); err != nil {
		return err
	}
	fmt.Fprintln(out, "All is well: database, documents, photographs and journal.")
	return nil
}

func mendIndex(ctx context.Context, file string) error {
	db, err := store.Open(ctx, file)
	if err != nil {
		return err
	}
	return errors.Join(db.Mend(ctx), db.Close())
}

// unreadable reads a database through as the program does, and returns what is wrong
// with it, a line each.
func unreadable(ctx context.Context, db *store.Store, folder string) error {
	found, err := db.Check(ctx)
	if err != nil {
		return err
	}
	st, err := studioOf(ctx, db, folder, device.NewSteadyClock().Now, nil)
	if err != nil {
		return err
	}
	wrong, err := audit.Read(ctx, db, st)
	if err != nil {
		return err
	}
	if found = append(found, wrong...); len(found) > 0 {
		return errors.New(strings.Join(found, "\n"))
	}
	return nil
}

func exportCommand() *cobra.Command {
	var data string
	one := map[share.Kind]*string{}
	c := &cobra.Command{
		Use: "export FOLDER|FILE.zip|FILE.json",
		Short: "Write everything as open files: JSON, pictures, tables, a calendar, palettes; or one piece, resin, pigment " +
			"or technique to share",
		Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			for _, kind := range sharedKinds {
				if id := *one[kind]; id != "" {
					return failed(exportOne(c, data, kind, id, args[0]))
				}
			}
			return failed(export(c, data, args[0]))
		},
	}
	addData(c, &data, "studio")
	for _, kind := range sharedKinds {
		one[kind] = c.Flags().String(string(kind), "", "number of the one "+string(kind)+" to write, with what it stands on")
	}
	return c
}

var sharedKinds = []share.Kind{share.Piece, share.Resin, share.Pigment, share.Technique}

func exportOne(c *cobra.Command, data string, kind share.Kind, id, path string) error {
	return withStudio(c, data, func(st *studio.Studio) error {
		text, _, err := st.Share.Write(c.Context(), kind, id)
		if errors.Is(err, store.ErrNotFound) {
			return fmt.Errorf("there is no %s %s", kind, id)
		}
		if err != nil {
			return err
		}
		f, err := os.OpenFile(path, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
		if err != nil {
			return err
		}
		_, err = f.Write(text)
		return errors.Join(err, f.Sync(), f.Close())
	})
}

// takeIn adds what was shared to a studio that is there.
func takeIn(c *cobra.Command, data, path string) error {
	text, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	return withStudio(c, data, func(st *studio.Studio) error {
		t, err := st.Share.Take(c.Context(), text)
		if err == nil {
			fmt.Fprintf(c.OutOrStdout(), "The %s %q was taken in.\n", t.Kind, t.Name)
		}
		return err
	})
}

func export(c *cobra.Command, data, path string) (err error) {
	if err := hasStudio(data); err != nil {
		return err
	}
	db, err := store.OpenToRead(c.Context(), dataFile(data))
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	st, err := studioOf(c.Context(), db, data, device.NewSteadyClock().Now, nil)
	if err != nil {
		return err
	}
	if err := archive.Write(c.Context(), db, st, drawings(st), path); err != nil {
		return err
	}
	fmt.Fprintf(c.OutOrStdout(), "%s holds all of %s, but for passwords and keys.\n", path, data)
	return nil
}

// drawings draws every board to scale in the colours of its last coat.
func drawings(st *studio.Studio) archive.Drawings {
	return func(ctx context.Context, put func(string, []byte) error) error {
		pages, err := frame.New(st, frame.Options{Log: slog.New(slog.DiscardHandler)})
		if err != nil {
			return err
		}
		set, err := st.Setup.Settings(ctx)
		if err != nil {
			return err
		}
		for at := 0; ; at += drawnAtOnce {
			list, _, err := st.Pieces.Pieces(ctx, "", drawnAtOnce, at)
			if err != nil || len(list) == 0 {
				return err
			}
			for _, p := range list {
				if err := draw(msg.WithLang(ctx, set.Lang()), st, pages, p, set.Units, put); err != nil {
					return err
				}
			}
		}
	}
}

func draw(
	ctx context.Context,
	st *studio.Studio,
	pages *frame.Frame,
	p pieces.Piece,
	sys units.System,
	put func(string, []byte) error,
) error {
	plan, err := st.Agenda.Alone(ctx, p)
	if err != nil || len(plan.Coats) == 0 {
		return nil // what cannot be calculated is in the tables all the same
	}
	var svg bytes.Buffer
	boards := drawing.Of(plan, &plan.Coats[len(plan.Coats)-1], p.ID, sys)
	boards.Alone = true
	if err := pages.Draw(ctx, &svg, "board", boards); err != nil {
		return err
	}
	return put(fmt.Sprintf("drawings/piece-%d.svg", p.ID), bytes.TrimSpace(svg.Bytes()))
}

const drawnAtOnce = 200

func importCommand() *cobra.Command {
	var data string
	var how placing
	c := &cobra.Command{
		Use:   "import FOLDER|FILE.zip|FILE.json",
		Short: "Import a whole export, keeping the old data beside it, or one thing that was shared",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if strings.HasSuffix(args[0], ".json") {
				return failed(takeIn(c, data, args[0]))
			}
			return failed(inPlace(c, data, how, args[0], func(dir string) (string, error) {
				file := dataFile(dir)
				return file, archive.Read(c.Context(), args[0], file)
			}))
		},
	}
	addData(c, &data, "studio")
	how.add(c)
	return c
}

// How a database is put in the place of a studio's.
type placing struct {
	replace bool // in place of one that is there
	anyway  bool // with documents the program cannot read
}

func (p *placing) add(c *cobra.Command) {
	c.Flags().BoolVar(&p.replace, "replace", false, "in place of a studio that is there")
	c.Flags().BoolVar(&p.anyway, "anyway", false, "also with documents that cannot be read, which are listed")
}

// readWhole reads a copy of a database through before it is put in a place.
func readWhole(c *cobra.Command, file, folder string, anyway bool) (err error) {
	db, err := store.OpenCopy(c.Context(), file)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	wrong := unreadable(c.Context(), db, folder)
	if wrong != nil && anyway {
		fmt.Fprintln(c.ErrOrStderr(), wrong)
		return nil
	}
	if wrong != nil {
		return fmt.Errorf("%w\nnothing was changed; --anyway puts it in its place all the same", wrong)
	}
	return nil
}

// inPlace puts a database in the place of a studio's, which is kept; ready makes it,
// in a folder that is thrown away.
func inPlace(c *cobra.Command, data string, how placing, of string, ready func(dir string) (string, error)) error {
	if err := folderNamed(data); err != nil {
		return err
	}
	if err := hasStudio(data); err == nil && !how.replace {
		return fmt.Errorf(
			"there is a studio in %s already; --replace keeps a copy of it and puts this one in its place",
			data,
		)
	}
	lock, err := store.LockFolder(data)
	if err != nil {
		return err
	}
	defer lock.Release()
	dir, err := os.MkdirTemp(data, ".new-*")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	file, err := ready(dir)
	if err != nil {
		return err
	}
	if err := readWhole(c, file, data, how.anyway); err != nil {
		return err
	}
	kept, err := store.Restore(c.Context(), file, dataFile(data))
	if err != nil {
		return err
	}
	fmt.Fprintf(c.OutOrStdout(), "%s stands in %s.\n", of, data)
	if kept != "" {
		fmt.Fprintf(c.OutOrStdout(), "What was there is kept as %s.\n", kept)
	}
	return nil
}
