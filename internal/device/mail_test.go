package device

import (
	"bufio"
	"fmt"
	"net"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// server speaks just enough SMTP (RFC 5321) on the loopback to take one letter.
func server(t *testing.T) (port int, letter <-chan string) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { l.Close() })
	got := make(chan string, 1)
	go func() {
		c, err := l.Accept()
		if err != nil {
			return
		}
		defer c.Close()
		fmt.Fprint(c, "220 here\r\n")
		in := bufio.NewScanner(c)
		for in.Scan() {
			switch word, _, _ := strings.Cut(in.Text(), " "); strings.ToUpper(word) {
			case "EHLO", "HELO":
				fmt.Fprint(c, "250 here\r\n")
			case "DATA":
				fmt.Fprint(c, "354 go on\r\n")
				var b strings.Builder
				for in.Scan() && in.Text() != "." {
					b.WriteString(in.Text() + "\n")
				}
				got <- b.String()
				fmt.Fprint(c, "250 taken\r\n")
			case "QUIT":
				fmt.Fprint(c, "221 bye\r\n")
				return
			default:
				fmt.Fprint(c, "250 well\r\n")
			}
		}
	}()
	return l.Addr().(*net.TCPAddr).Port, got
}

func TestALetterIsKeptAndHandedOver(t *testing.T) {
	port, letter := server(t)
	folder := filepath.Join(t.TempDir(), "outbox")
	m := Message{ID: 7, From: "studio@example.org", To: "painter@example.org", Subject: "Mon 2 Mar: 3 things to do",
		Body: "08:00  Mask the back\n", At: time.Date(2026, 3, 2, 7, 0, 0, 0, time.UTC)}
	require.NoError(t, Post{folder}.Send(t.Context(), MailServer{Host: "127.0.0.1", Port: port}, m))
	assert.Contains(t, <-letter, "Mask the back")
	kept, err := os.ReadFile(filepath.Join(folder, "20260302-070000-7.eml"))
	require.NoError(t, err)
	assert.Contains(t, string(kept), "Subject: Mon 2 Mar: 3 things to do")
}

func TestALetterThatCannotGoIsStillKept(t *testing.T) {
	folder := t.TempDir()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	port := l.Addr().(*net.TCPAddr).Port
	l.Close() // nobody answers here now
	m := Message{ID: 1, Subject: "x", Body: "y", At: time.Unix(0, 0)}
	assert.Error(t, Post{folder}.Send(t.Context(), MailServer{Host: "127.0.0.1", Port: port}, m))
	files, err := filepath.Glob(filepath.Join(folder, "*.eml"))
	require.NoError(t, err)
	assert.Len(t, files, 1)
	assert.NoError(t, Post{folder}.Send(t.Context(), MailServer{}, m), "without a server the outbox is enough")
	m.To = "not an address"
	assert.ErrorContains(t, Post{folder}.Send(t.Context(), MailServer{}, m), "not an address")
}
