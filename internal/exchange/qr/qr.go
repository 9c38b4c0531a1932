// Package qr draws an address as a QR code (ISO/IEC 18004) in SVG.
package qr

import (
	"fmt"
	"image/color"
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
		for x := 0; x < side; x++ {
			from := x
			for x < side && code.At(x, y) == color.Black {
				x++
			}
			if x > from {
				fmt.Fprintf(&path, "M%d %dh%dv1h-%dz", from+quiet, y+quiet, x-from, x-from)
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
