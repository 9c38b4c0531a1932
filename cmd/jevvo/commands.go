package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/adrg/xdg"
	"github.com/spf13/cobra"

	"jevvo/internal/calc"
	"jevvo/internal/core/preview"
	"jevvo/internal/exchange/still"
	"jevvo/internal/msg"
)

// flags are the flags serve and demo share.
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
	cells int  // of a preview, on the longer side
	short bool // a demo without its past
}

func rootCommand() *cobra.Command {
	root := &cobra.Command{
		Use:           "jevvo",
		Short:         "Plan resin paintings: amounts, cups, clock and days",
		Version:       versionText(),
		SilenceErrors: true,
		SilenceUsage:  true,
	}
	root.AddCommand(serveCommand(), demoCommand(), calcCommand(), flowCommand(), backupCommand(), restoreCommand(),
		exportCommand(), importCommand(), checkCommand(), pairCommand(), passphraseCommand(), doctorCommand())
	return root
}

func (f *flags) add(c *cobra.Command, folder string) {
	c.Flags().StringVar(&f.port, "port", envOr("JEVVO_PORT", "8017"),
		"port on 127.0.0.1 to answer on, 0 for any free one ($JEVVO_PORT)")
	addData(c, &f.data, folder)
	f.addLAN(c)
	c.Flags().IntVar(&f.cells, "preview-cells", numberOr("JEVVO_PREVIEW_CELLS", preview.Usual),
		"cells of a preview on the board's longer side; fewer on a slow machine ($JEVVO_PREVIEW_CELLS)")
	c.Flags().BoolVar(&f.any, "any-user", false, "let other users of this computer in")
	c.Flags().StringVar(&f.log, "log", envOr("JEVVO_LOG", "info"), "log level: debug, info, warn or error ($JEVVO_LOG)")
}

func envOr(key, value string) string {
	if v := os.Getenv(key); v != "" {
		return v
	}
	return value
}

// numberOr is a number of the environment; what is none is 0, which no bound allows.
func numberOr(key string, value int) int {
	text := os.Getenv(key)
	if text == "" {
		return value
	}
	v, err := strconv.Atoi(text)
	if err != nil {
		return 0
	}
	return v
}

// addData adds the flag of a data folder.
func addData(c *cobra.Command, data *string, folder string) {
	c.Flags().StringVar(data, "data", envOr("JEVVO_DATA", filepath.Join(xdg.DataHome, "jevvo", folder)),
		"data folder ($JEVVO_DATA)")
}

func serveCommand() *cobra.Command {
	var f flags
	c := &cobra.Command{
		Use: "serve", Short: "Open your studio in the browser", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return failed(serve(c, f, false)) },
	}
	f.add(c, "studio")
	c.Flags().StringVar(&f.snaps, "snapshots", os.Getenv("JEVVO_SNAPSHOTS"),
		"folder, on a stick or another disk, for a copy of the data every day ($JEVVO_SNAPSHOTS)")
	c.Flags().StringVar(&f.scale, "scale", os.Getenv("JEVVO_SCALE"),
		"serial port of a scale that sends its display, such as /dev/ttyUSB0@9600 ($JEVVO_SCALE)")
	return c
}

func demoCommand() *cobra.Command {
	var f flags
	c := &cobra.Command{
		Use: "demo", Short: "Open a studio filled with made-up pieces, apart from your own", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return failed(serve(c, f, true)) },
	}
	f.add(c, "demo")
	c.Flags().BoolVar(&f.short, "short", false, "only the pieces in hand, without the eight months behind them")
	return c
}

func calcCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "calc [name] < in.json",
		Short: "Run one calculator: JSON in, JSON out; without a name it lists them",
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
				fmt.Fprintln(c.OutOrStdout(), string(p.JSON(msg.English)))
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
		Use: "flow SCENE.json", Short: "Calculate what a film on a board does, as a picture; - reads from " +
			"standard input", Args: cobra.ExactArgs(1),
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
				data, err := still.PNG(still.Board{Picture: m, Wide: wide,
					Words: strings.TrimSuffix(filepath.Base(args[0]), filepath.Ext(args[0]))})
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
