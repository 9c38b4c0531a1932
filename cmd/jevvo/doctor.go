package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"jevvo/internal/certificate"
	"jevvo/internal/secrets"
	"jevvo/internal/store"
	"jevvo/internal/web/peer"
)

func doctorCommand() *cobra.Command {
	var f flags
	c := &cobra.Command{
		Use: "doctor", Short: "Check what a studio needs on this computer, and how to fix what is missing",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return failed(doctor(c.Context(), f, c.OutOrStdout())) },
	}
	addData(c, &f.data, "studio")
	c.Flags().StringVar(&f.port, "port", envOr("JEVVO_PORT", "8017"), "port it is to answer on ($JEVVO_PORT)")
	c.Flags().StringVar(&f.snaps, "snapshots", os.Getenv("JEVVO_SNAPSHOTS"),
		"folder of daily snapshots ($JEVVO_SNAPSHOTS)")
	return c
}

// A finding is a check and its result; amiss is the remedy.
type finding struct{ what, is, amiss string }

// Bounds below which the doctor speaks up.
const (
	leastRoom    = 500 << 20          // bytes on the disk
	oldSnapshot  = 3 * 24 * time.Hour // a snapshot is made every day
	openToOthers = fs.FileMode(0o077)
)

func doctor(ctx context.Context, f flags, out io.Writer) error {
	if err := folderNamed(f.data); err != nil {
		return err
	}
	all := []finding{{what: "program", is: versionText()}}
	all = append(all, lookAtFolder(f.data)...)
	all = append(all, lookAtData(ctx, f.data)...)
	all = append(all, lookAtSecrets(f.data), lookAtPort(f.port), lookAtNetwork(f.data), lookAtSnapshots(f.snaps))
	amiss := 0
	for _, a := range all {
		if a.amiss == "" {
			fmt.Fprintf(out, "well   %-12s %s\n", a.what, a.is)
			continue
		}
		amiss++
		fmt.Fprintf(out, "amiss  %-12s %s: %s\n", a.what, a.is, a.amiss)
	}
	if amiss > 0 {
		return fmt.Errorf("%d of %d are amiss", amiss, len(all))
	}
	return nil
}

func lookAtFolder(folder string) []finding {
	info, err := os.Stat(folder)
	if errors.Is(err, fs.ErrNotExist) {
		return []finding{{what: "folder", is: folder + " is made at the first start"}}
	}
	if err != nil {
		return []finding{{"folder", folder, err.Error()}}
	}
	is := finding{what: "folder", is: folder}
	if info.Mode().Perm()&openToOthers != 0 {
		is.amiss = "other users of this computer can look into it; chmod 700 helps"
	}
	room := finding{what: "disk"}
	free, known := freeOn(folder)
	if !known {
		return []finding{is}
	}
	room.is = fmt.Sprintf("%d MB free", free>>20)
	if free < leastRoom {
		room.amiss = "make room before the next photographs"
	}
	return []finding{is, room}
}

func lookAtData(ctx context.Context, folder string) []finding {
	if err := hasStudio(folder); err != nil {
		return []finding{{what: "data", is: "none yet"}}
	}
	db, err := store.OpenToRead(ctx, dataFile(folder))
	if err != nil {
		return []finding{{"data", dataFile(folder), err.Error()}}
	}
	if err := errors.Join(unreadable(ctx, db, folder), db.Close()); err != nil {
		var out []finding
		for line := range strings.Lines(err.Error()) {
			out = append(out, finding{"data", dataFile(folder), strings.TrimSpace(line)})
		}
		return out
	}
	return []finding{{what: "data", is: "database, documents, photographs and journal are sound"}}
}

func lookAtSecrets(folder string) finding {
	path := secretsFile(folder)
	is := finding{what: "secrets", is: path}
	info, err := os.Stat(path)
	if errors.Is(err, fs.ErrNotExist) {
		return finding{what: "secrets", is: "none kept"}
	}
	if _, readErr := (&secrets.File{Path: path}).Get("none"); err != nil || readErr != nil {
		is.amiss = errors.Join(err, readErr).Error()
	} else if info.Mode().Perm()&openToOthers != 0 {
		is.amiss = "others can read it; chmod 600 helps"
	}
	return is
}

func lookAtPort(port string) finding {
	is := finding{what: "port", is: port + " is free"}
	l, err := net.Listen("tcp", net.JoinHostPort("127.0.0.1", port))
	if err != nil {
		is.is, is.amiss = port+" is busy", "fine if that is Jevvo; else choose another with --port"
		return is
	}
	l.Close()
	if !peer.Known {
		is.is += "; whose connection it is is not known on this system: the address holds a key"
	}
	return is
}

func lookAtNetwork(folder string) finding {
	is := finding{what: "network",
		is: fmt.Sprintf("%d addresses, names %v", len(certificate.Addresses()), certificate.Names())}
	if _, err := os.Stat(filepath.Join(folder, "lan-certificate.pem")); err != nil {
		is.is += "; no certificate yet (serve --lan makes one)"
		return is
	}
	cert, err := certificate.Own(folder, time.Now())
	if err != nil {
		is.amiss = err.Error()
		return is
	}
	is.is += "; certificate until " + cert.Leaf.NotAfter.Format(time.DateOnly)
	return is
}

func lookAtSnapshots(folder string) finding {
	if folder == "" {
		return finding{what: "snapshots", is: "not kept: serve --snapshots FOLDER keeps one a day on another disk"}
	}
	is := finding{what: "snapshots", is: folder}
	newest := time.Time{}
	files, err := filepath.Glob(filepath.Join(folder, "*.db"))
	for _, f := range files {
		if info, err := os.Stat(f); err == nil && info.ModTime().After(newest) {
			newest = info.ModTime()
		}
	}
	switch {
	case err != nil:
		is.amiss = err.Error()
	case newest.IsZero():
		is.amiss = "there is none yet; is the folder there?"
	case time.Since(newest) > oldSnapshot:
		is.amiss = "the newest is of " + newest.Format(time.DateOnly)
	default:
		is.is += ", the newest of " + newest.Format(time.DateOnly)
	}
	return is
}
