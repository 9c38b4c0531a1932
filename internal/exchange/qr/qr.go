// Package qr draws an address as a QR code (ISO/IEC 18004) in SVG.
package qr

import (
	"fmt"
	"strings"

	"github.com/boombuler/barcode/qr"
)

// quiet is the empty border the standard asks for, in modules.
const quiet = 4

// SVG draws text so that a camera reads it back even where a seventh of it is smudged.
func SVG(text, label string) (string, error) {
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		return "", fmt.Errorf("draw a QR code: %w", err)
	}
	side := code.Bounds().Dx()
	var path strings.Builder
	for y := range side {
		for x := range side {
			if r, _, _, _ := code.At(x, y).RGBA(); r == 0 {
				fmt.Fprintf(&path, "M%d %dh1v1h-1z", x+quiet, y+quiet)
			}
		}
	}
	all := side + 2*quiet
	return fmt.Sprintf(`<svg class="qr" role="img" aria-label="%s" viewBox="0 0 %d %d" shape-rendering="crispEdges"><path fill="#fff" d="M0 0h%dv%dH0z"/><path fill="#000" d="%s"/></svg>`,
		escape(label), all, all, all, all, path.String()), nil
}

func escape(text string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", `"`, "&#34;").Replace(text)
}
