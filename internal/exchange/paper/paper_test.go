package paper_test

import (
	"bytes"
	"context"
	"image"
	"os"
	"strings"
	"testing"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/paper"
)

func sample() paper.Paper {
	m := image.NewNRGBA(image.Rect(0, 0, 90, 60))
	for i := range m.Pix {
		m.Pix[i] = uint8(i * 7 / 3)
	}
	p := paper.Paper{Kind: "quote", Title: "Quote", Number: "Q2026-0007", Lang: "en", Page: "page", Of: "of",
		Studio: "Studio Wenning", Lines: []string{"Slipway 3, Outer Isle"},
		To:      []string{`Maren "Quill" O'Dell`, "Ödön Šárka, שלום עולם, مرحبا", "🎨😀👩‍🎨"},
		Facts:   []paper.Fact{{"Date", "26 November 2026"}},
		Opening: strings.Repeat("What was talked about at the office of the flat island, and measured there. ", 4),
		Heads:   [4]string{"What", "Boards", "Each", "Sum"},
		Totals: []paper.Total{{Label: "Sum", Amount: "1 234.50 EUR"},
			{Label: "To pay", Amount: "1 469.06 EUR", Strong: true}},
		Options: []paper.Option{{Name: "Tile one", Image: m, Text: "swiped", Amount: "980.00 EUR"}},
		Foot:    []string{"Bank of the Isle 12 34"}}
	for range 40 {
		p.Items = append(p.Items, paper.Item{Text: "Ebb tide, office first floor", Detail: "60 × 90 cm", Count: "2",
			Each: "490.00", Sum: "980.00"})
	}
	for range 7 {
		p.Pictures = append(p.Pictures, paper.Picture{Caption: "Ebb tide, 60 × 90 cm", Image: m, Width: 900, Height: 600})
	}
	return p
}

func TestAPaperOfSeveralPages(t *testing.T) {
	data, err := sample().PDF(t.Context())
	require.NoError(t, err)
	assert.Equal(t, "%PDF-1.", string(data[:7]))
	for _, said := range []string{"/Lang(en)", "/Marked true", "/StructTreeRoot"} {
		assert.True(t, bytes.Contains(data, []byte(said)), said)
	}
	assert.Less(t, len(data), 2_000_000)
	if at := os.Getenv("JEVVO_PAPER"); at != "" {
		require.NoError(t, os.WriteFile(at, data, 0o600))
	}
	p := sample()
	p.Small, p.Items, p.Pictures, p.Opening = true, nil, nil, strings.Repeat("W", 400)
	_, err = p.PDF(t.Context())
	require.NoError(t, err, "a word that is wider than the paper is cut")
	_, err = paper.Paper{}.PDF(t.Context())
	require.NoError(t, err, "a paper of nothing is an empty page")
	gone, leave := context.WithCancel(t.Context())
	leave()
	_, err = sample().PDF(gone)
	assert.ErrorIs(t, err, context.Canceled, "nobody waits for it")
}

// Papers are A4, or letter where that is what printers hold (ISO 216; ANSI A), and cards postcards.
func TestSheets(t *testing.T) {
	for want, p := range map[[2]float64]paper.Paper{{210, 297}: {}, {215.9, 279.4}: {Letter: true},
		{148, 105}: {Small: true, Letter: true}} {
		data, err := p.PDF(t.Context())
		require.NoError(t, err)
		pages, err := api.PageDims(bytes.NewReader(data), nil)
		require.NoError(t, err)
		require.NotEmpty(t, pages)
		mm := pages[0].ToMillimetres()
		assert.InDeltaSlice(t, want[:], []float64{mm.Width, mm.Height}, 0.01)
	}
}

// BenchmarkQuote sets a quote of one page; wanted under 300 ms.
func BenchmarkQuote(b *testing.B) {
	p := sample()
	p.Items, p.Pictures = p.Items[:3], p.Pictures[:3]
	m := image.NewRGBA(image.Rect(0, 0, 900, 600)) // as large as boards are drawn
	for i := range m.Pix {
		m.Pix[i] = uint8(i * i >> 9)
	}
	for i := range p.Pictures {
		p.Pictures[i].Image = m
	}
	for b.Loop() {
		if _, err := p.PDF(b.Context()); err != nil {
			b.Fatal(err)
		}
	}
}
