// Package certificate gives a studio that answers on the network a certificate of its
// own, and says at which addresses it answers there.
package certificate

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// Names of the files in the folder of the data, for its owner alone.
const (
	certFile = "lan-certificate.pem"
	keyFile  = "lan-key.pem"
)

// Own certificates are good for as long as telephones accept, and made anew before
// they are over.
const (
	goodFor = 820 * 24 * time.Hour
	anew    = 30 * 24 * time.Hour
)

// Own returns the certificate of a data folder; it is made at first, and anew when it
// is nearly over.
func Own(folder string, now time.Time) (tls.Certificate, error) {
	cert, err := tls.LoadX509KeyPair(filepath.Join(folder, certFile), filepath.Join(folder, keyFile))
	if err == nil && cert.Leaf.NotAfter.After(now.Add(anew)) {
		return cert, nil
	}
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return cert, fmt.Errorf("read the certificate in %s; take %s and %s away and a new one is made: %w", folder, certFile,
			keyFile, err)
	}
	return makeOwn(folder, now)
}

func makeOwn(folder string, now time.Time) (tls.Certificate, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return tls.Certificate{}, err
	}
	number, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 127))
	if err != nil {
		return tls.Certificate{}, err
	}
	t := &x509.Certificate{
		SerialNumber: number, Subject: pkix.Name{CommonName: "Jevvo studio"},
		NotBefore: now.Add(-time.Hour), NotAfter: now.Add(goodFor),
		// Its own authority, for nothing but itself: a telephone trusts it only as one.
		IsCA: true, MaxPathLenZero: true, BasicConstraintsValid: true,
		KeyUsage:    x509.KeyUsageDigitalSignature | x509.KeyUsageCertSign,
		ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
		DNSNames:    append([]string{"localhost"}, Names()...), IPAddresses: append(Addresses(), net.IPv4(127, 0, 0, 1)),
	}
	der, err := x509.CreateCertificate(rand.Reader, t, t, key.Public(), key)
	if err != nil {
		return tls.Certificate{}, err
	}
	raw, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return tls.Certificate{}, err
	}
	cert := pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der})
	private := pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: raw})
	if err := errors.Join(put(filepath.Join(folder, keyFile), private),
		put(filepath.Join(folder, certFile), cert)); err != nil {
		return tls.Certificate{}, fmt.Errorf("keep the certificate: %w", err)
	}
	return tls.X509KeyPair(cert, private)
}

// put writes a file whole, for its owner alone.
func put(path string, data []byte) error {
	if err := os.WriteFile(path+".new", data, 0o600); err != nil {
		return err
	}
	return os.Rename(path+".new", path)
}

// Fingerprint is the SHA-256 of a certificate, as browsers show it.
func Fingerprint(c tls.Certificate) string {
	sum := sha256.Sum256(c.Certificate[0])
	parts := make([]string, len(sum))
	for i, b := range sum {
		parts[i] = fmt.Sprintf("%02X", b)
	}
	return strings.Join(parts, ":")
}

// Names are this computer's names on its network.
func Names() []string {
	host, err := os.Hostname()
	if err != nil || host == "" || net.ParseIP(host) != nil {
		return nil
	}
	host = strings.ToLower(host)
	if strings.Contains(host, ".") {
		return []string{host}
	}
	return []string{host, host + ".local"}
}

// Addresses are those of this computer on its networks, private ones first.
func Addresses() []net.IP {
	all, err := net.InterfaceAddrs()
	if err != nil {
		return nil
	}
	var out []net.IP
	for _, a := range all {
		if n, ok := a.(*net.IPNet); ok && n.IP.IsGlobalUnicast() && n.IP.To4() != nil {
			out = append(out, n.IP.To4())
		}
	}
	slices.SortStableFunc(out, func(a, b net.IP) int { return rank(a) - rank(b) })
	return out
}

func rank(ip net.IP) int {
	if ip.IsPrivate() {
		return 0
	}
	return 1
}
