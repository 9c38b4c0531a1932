// Package archive writes a studio as a folder of open files that outlive any
// program, and reads one back.
package archive

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/exchange/sheet"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/stock"
)

// A sink is where the files of an archive go.
type sink = func(name string, data []byte) error

// Drawings write what is drawn of a studio, which this package cannot.
type Drawings func(ctx context.Context, put func(name string, data []byte) error) error

// Write writes everything a studio keeps to a file that ends in .zip, else to a
// folder that is not there yet: under another name first, and whole in its place.
func Write(ctx context.Context, db *store.Store, st *studio.Studio, draw Drawings, path string) (err error) {
	if strings.TrimSpace(path) == "" {
		return errors.New("an export needs the name of a file or a folder")
	}
	if _, err := os.Stat(path); err == nil {
		return fmt.Errorf("%s exists already", path)
	}
	part := path + ".part"
	if err := os.RemoveAll(part); err != nil {
		return err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, os.RemoveAll(part))
		}
	}()
	if strings.HasSuffix(strings.ToLower(path), ".zip") {
		err = toZip(part, func(put sink) error { return write(ctx, db, st, draw, put) })
	} else {
		err = write(ctx, db, st, draw, toFolder(part))
	}
	if err != nil {
		return fmt.Errorf("export: %w", err)
	}
	return os.Rename(part, path)
}

func toFolder(root string) sink {
	return func(name string, data []byte) error {
		at := filepath.Join(root, filepath.FromSlash(name))
		if err := os.MkdirAll(filepath.Dir(at), 0o700); err != nil {
			return err
		}
		return os.WriteFile(at, data, 0o600)
	}
}

func toZip(path string, do func(sink) error) error {
	f, err := os.OpenFile(path, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	z := zip.NewWriter(f)
	err = do(func(name string, data []byte) error {
		w, err := z.Create(name)
		if err == nil {
			_, err = w.Write(data)
		}
		return err
	})
	return errors.Join(err, z.Close(), f.Sync(), f.Close())
}

// write writes the tables, and beside them what opens in other programs.
func write(ctx context.Context, db *store.Store, st *studio.Studio, draw Drawings, put sink) error {
	m, err := db.DumpTo(ctx, store.Dump{Put: put})
	if err != nil {
		return err
	}
	for name, make := range map[string]func(io.Writer) error{
		"days.ics":     func(w io.Writer) error { return st.Mail.Calendar(ctx, w) },
		"pieces.csv":   func(w io.Writer) error { return piecesTable(ctx, st, w) },
		"resins.csv":   func(w io.Writer) error { return resinsTable(ctx, st, w) },
		"pigments.csv": func(w io.Writer) error { return pigmentsTable(ctx, st, w) },
		"README.md":    func(w io.Writer) error { return readme(w, m, st.Now()) },
	} {
		var b bytes.Buffer
		if err := make(&b); err != nil {
			return fmt.Errorf("write %s: %w", name, err)
		}
		if err := put(name, b.Bytes()); err != nil {
			return err
		}
	}
	if err := draw(ctx, put); err != nil {
		return fmt.Errorf("draw the boards: %w", err)
	}
	return palettes(ctx, st, put)
}

func readme(w io.Writer, m store.Manifest, now time.Time) error {
	pictures := len(m.Files)
	_, err := fmt.Fprintf(w, `# A studio, exported %s

Everything Jevvo keeps of this studio, in files that open anywhere:

- tables/*.json: every table, a list of rows; a cell {"file": "…"} is that file. Schema %d,
  written out in schema.sql.
- pictures/: %d pictures, as they were kept.
- pieces.csv, resins.csv, pigments.csv: for a spreadsheet. days.ics: for a calendar.
  palettes/*.gpl: for painting programs.
- drawings/*.svg: every board to scale, in its colours.
- studio.json: what belongs to it.

jevvo import reads it back. Passwords and keys are not in it.
`, now.Format("2 January 2006"), m.Schema, pictures)
	return err
}

// mostOf is how many of a kind are written.
const mostOf = 1_000_000

func piecesTable(ctx context.Context, st *studio.Studio, w io.Writer) error {
	list, _, err := st.Pieces.Pieces(ctx, "", mostOf, 0)
	if err != nil {
		return err
	}
	rows := [][]string{{"id", "name", "state", "due", "width_mm", "height_mm", "count", "coats", "brief"}}
	for _, p := range list {
		coats, due := 0, ""
		for _, l := range p.Layers {
			if l.Coat != nil {
				coats++
			}
		}
		if !p.Due.IsZero() {
			due = p.Due.Format(time.DateOnly)
		}
		rows = append(rows, []string{strconv.FormatInt(p.ID, 10), p.Name, string(p.State), due, number(float64(p.Width)),
			number(float64(p.Height)), strconv.Itoa(p.Count), strconv.Itoa(coats), p.Brief})
	}
	return sheet.Write(w, rows)
}

func resinsTable(ctx context.Context, st *studio.Studio, w io.Writer) error {
	book, err := st.Materials.Book(ctx)
	if err != nil {
		return err
	}
	have, err := st.Stock.Ledger(ctx)
	if err != nil {
		return err
	}
	rows := [][]string{{"id", "name", "working_min", "hard_h", "stock_ml"}}
	for _, p := range book.Resins {
		rows = append(rows, []string{strconv.FormatInt(p.ID, 10), p.Name, number(p.WorkingMinutes), number(p.HardHours),
			number(have.Have(stock.Thing{Kind: store.Resins, ID: p.ID}))})
	}
	return sheet.Write(w, rows)
}

func pigmentsTable(ctx context.Context, st *studio.Studio, w io.Writer) error {
	book, err := st.Materials.Book(ctx)
	if err != nil {
		return err
	}
	have, err := st.Stock.Ledger(ctx)
	if err != nil {
		return err
	}
	rows := [][]string{{"id", "name", "group", "swatch", "load_limit", "stock_g"}}
	for _, p := range book.Paints {
		rows = append(rows, []string{strconv.FormatInt(p.ID, 10), p.Name, p.Maker, p.Swatch, number(p.LoadLimit),
			number(have.Have(stock.Thing{Kind: store.Pigments, ID: p.ID}))})
	}
	return sheet.Write(w, rows)
}

func number(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

func palettes(ctx context.Context, st *studio.Studio, put sink) error {
	list, _, err := st.Colours.Palettes(ctx, mostOf, 0)
	if err != nil {
		return err
	}
	for _, p := range list {
		var b bytes.Buffer
		if _, err := st.Colours.ExportPalette(ctx, p.ID, &b); err != nil {
			return err
		}
		if err := put(fmt.Sprintf("palettes/%d.gpl", p.ID), b.Bytes()); err != nil {
			return err
		}
	}
	return nil
}

// Read makes a new database of an export.
func Read(ctx context.Context, path, database string) error {
	info, err := os.Stat(path)
	if err != nil {
		return fmt.Errorf("there is no file or folder %s", path)
	}
	if info.IsDir() {
		return store.Load(ctx, database, store.Dump{Get: func(name string) ([]byte, error) {
			if !filepath.IsLocal(filepath.FromSlash(name)) {
				return nil, fmt.Errorf("%q is not in the export", name)
			}
			f, err := os.Open(filepath.Join(path, filepath.FromSlash(name)))
			return bounded(name, f, err)
		}})
	}
	z, err := zip.OpenReader(path)
	if err != nil {
		return fmt.Errorf("%s is neither a folder nor a zip file", path)
	}
	defer z.Close()
	return store.Load(ctx, database,
		store.Dump{Get: func(name string) ([]byte, error) { return unzipped(&z.Reader, name) }})
}

func unzipped(z *zip.Reader, name string) ([]byte, error) {
	f, err := z.Open(name)
	return bounded(name, f, err)
}

// bounded reads a file of an export that was opened.
func bounded(name string, f io.ReadCloser, err error) ([]byte, error) {
	if err != nil {
		return nil, fmt.Errorf("%q is not in the export", name)
	}
	defer f.Close()
	data, err := io.ReadAll(io.LimitReader(f, store.MostFile+1))
	if err == nil && len(data) > store.MostFile {
		return nil, fmt.Errorf("%q is larger than %d MB", name, store.MostFile>>20)
	}
	return data, err
}
