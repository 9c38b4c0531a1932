package main

import (
	"bufio"
	"crypto/rand"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"jevvo/internal/certificate"
	"jevvo/internal/device"
	"jevvo/internal/secrets"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/access"
	"jevvo/internal/web/frame"
)

func (f *flags) addLAN(c *cobra.Command) {
	c.Flags().BoolVar(&f.lan, "lan", os.Getenv("JEVVO_LAN") == "1",
		"answer other computers of the network too, by https, each once it was paired ($JEVVO_LAN=1)")
	c.Flags().StringVar(&f.cert, "cert", os.Getenv("JEVVO_CERT"),
		"with --lan: a certificate of your own, PEM ($JEVVO_CERT)")
	c.Flags().StringVar(&f.key, "key", os.Getenv("JEVVO_KEY"), "its private key, PEM ($JEVVO_KEY)")
	c.Flags().StringSliceVar(&f.names, "name", nil, "with --lan: another name this computer is called by on the network")
}

// lanFits reports flags that do not go together.
func (f *flags) lanFits() error {
	switch {
	case (f.cert == "") != (f.key == ""):
		return errors.New("a certificate needs its key: give both --cert and --key")
	case !f.lan && (f.cert != "" || len(f.names) > 0):
		return errors.New("--cert, --key and --name go with --lan")
	}
	return nil
}

// listen opens the port, for this computer alone or for the network.
func (f *flags) listen(number int) (net.Listener, error) {
	kind, host := "tcp", "127.0.0.1"
	if f.lan {
		kind, host = "tcp4", "0.0.0.0"
	}
	l, err := net.Listen(kind, net.JoinHostPort(host, f.port))
	if errors.Is(err, syscall.EADDRINUSE) {
		return nil, fmt.Errorf("port %d is busy, perhaps with another Jevvo; choose one with --port, for example --port %d",
			number, number+1)
	}
	if err != nil {
		return nil, fmt.Errorf("answer on port %d: %w", number, err)
	}
	return l, nil
}

// network is the network configuration; nil without.
func (f *flags) network(l net.Listener) (*frame.LAN, error) {
	if !f.lan {
		return nil, nil
	}
	var cert tls.Certificate
	var err error
	if f.cert != "" {
		if cert, err = tls.LoadX509KeyPair(f.cert, f.key); err != nil {
			return nil, fmt.Errorf("read the certificate %s with the key %s: %w", f.cert, f.key, err)
		}
	} else if cert, err = certificate.Own(f.data, time.Now()); err != nil {
		return nil, err
	}
	out := &frame.LAN{Certificate: cert, Fingerprint: certificate.Fingerprint(cert), Names: certificate.Names()}
	port := l.Addr().(*net.TCPAddr).Port
	for _, n := range f.names {
		n = strings.ToLower(strings.TrimSpace(n))
		out.Names = append(out.Names, n)
		out.Addresses = append(out.Addresses, fmt.Sprintf("https://%s:%d", n, port))
	}
	for _, ip := range certificate.Addresses() {
		out.Addresses = append(out.Addresses, fmt.Sprintf("https://%s:%d", ip, port))
	}
	return out, nil
}

// screenSecret is the name among the secrets of what a screen shows where it is not
// known whose a connection is.
const screenSecret = "screen_key"

// screenKey is that; "" where it is not needed.
func (f *flags) screenKey() (string, error) {
	if f.any {
		return "", nil
	}
	keep := &secrets.File{Path: secretsFile(f.data)}
	key, err := keep.Get(screenSecret)
	if err != nil || key != "" {
		return key, err
	}
	key = rand.Text()
	return key, keep.Set(screenSecret, key)
}

func secretsFile(folder string) string { return filepath.Join(folder, "secrets.json") }

// say prints where the studio is open.
func (f *flags) say(out io.Writer, l net.Listener, o frame.Options) {
	address := fmt.Sprintf("http://127.0.0.1:%d/", l.Addr().(*net.TCPAddr).Port)
	if o.Key != "" {
		address += "enter?key=" + o.Key
	}
	fmt.Fprintf(out, "Jevvo is open at %s (data in %s). Stop with Ctrl-C.\n", address, f.data)
	if o.LAN == nil {
		return
	}
	fmt.Fprintf(out, "Other screens come in at %s, once they are paired: Settings, Other screens, or jevvo pair.\n",
		strings.Join(o.LAN.Addresses, " or "))
	fmt.Fprintf(out, "SHA-256 of its certificate: %s\n", o.LAN.Fingerprint)
}

func pairCommand() *cobra.Command {
	var data, role, person string
	c := &cobra.Command{
		Use:   "pair [studio|bench|look]",
		Short: "Print a code that pairs one device with a studio opened by serve --lan", Args: cobra.MaximumNArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if len(args) > 0 {
				role = args[0]
			}
			return failed(withStudio(c, data, func(st *studio.Studio) error {
				code, until, err := st.Access.Offer(c.Context(), access.Role(role), person)
				if err == nil {
					fmt.Fprintf(c.OutOrStdout(), "%s\nfor one device, role %s, until %s\n", strings.ReplaceAll(code, " ", ""), role,
						until.Local().Format("15:04"))
				}
				return err
			}))
		},
	}
	addData(c, &data, "studio")
	c.Flags().StringVar(&role, "role", string(access.Bench), "what the device may do: studio (everything), bench, or look")
	c.Flags().StringVar(&person, "person", "", "who uses it, for the marks in the journal")
	return c
}

func passphraseCommand() *cobra.Command {
	var data string
	var drop bool
	c := &cobra.Command{
		Use: "passphrase", Short: "Lock the screen with a passphrase from standard input, or remove the lock",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return failed(withStudio(c, data, func(st *studio.Studio) error {
				if drop {
					return st.Access.DropPassphrase()
				}
				line, err := bufio.NewReader(c.InOrStdin()).ReadString('\n')
				if err != nil && !errors.Is(err, io.EOF) {
					return err
				}
				if line = strings.TrimRight(line, "\r\n"); line == "" {
					return errors.New("a passphrase comes by standard input; --drop takes it away")
				}
				return st.Access.ResetPassphrase(line)
			}))
		},
	}
	addData(c, &data, "studio")
	c.Flags().BoolVar(&drop, "drop", false, "lock the screen no more")
	return c
}

// withStudio opens a studio, which may be open elsewhere too, for one thing.
func withStudio(c *cobra.Command, data string, do func(*studio.Studio) error) (err error) {
	if err := hasStudio(data); err != nil {
		return err
	}
	db, st, err := open(c.Context(), store.Open, dataFile(data), data, device.NewSteadyClock().Now, nil)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	return do(st)
}
