package paper

import (
	"bytes"
	"fmt"
	"strings"
	"unicode/utf16"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
)

// A tag is an element of a paper's structure, by the standard names of ISO 32000-1,
// 14.8.4: what a screen reader reads, in its order.
type tag struct {
	kind, alt string
	kids      []*tag
	marks     []mark
}

// A mark is a stretch of a page that belongs to a tag.
type mark struct{ page, id int }

// tagged draws what belongs to a new tag below the present one, and returns it.
func (s *setter) tagged(kind string, draw func()) *tag {
	t := &tag{kind: kind}
	s.at.kids = append(s.at.kids, t)
	s.within(t, draw)
	return t
}

// within draws what belongs to a tag that is there already.
func (s *setter) within(t *tag, draw func()) {
	before := s.at
	s.at = t
	draw()
	s.at = before
}

// marked draws a stretch of the present tag; said is how it is read where that differs
// from what is drawn.
func (s *setter) marked(said string, draw func()) {
	if s.at == nil {
		s.ornament(draw)
		return
	}
	page := s.pdf.PageNo()
	id := s.marks[page]
	s.marks[page]++
	s.at.marks = append(s.at.marks, mark{page, id})
	if said != "" {
		said = " /ActualText <" + utf16Hex(said) + ">"
	}
	s.pdf.RawWriteStr(fmt.Sprintf("/%s <</MCID %d%s>> BDC", s.at.kind, id, said))
	draw()
	s.pdf.RawWriteStr("EMC")
}

// ornament draws what nobody needs to hear: rules, and what stands on every page.
func (s *setter) ornament(draw func()) {
	s.pdf.RawWriteStr("/Artifact BMC")
	draw()
	s.pdf.RawWriteStr("EMC")
}

func utf16Hex(text string) string {
	var b strings.Builder
	b.WriteString("FEFF")
	for _, unit := range utf16.Encode([]rune(text)) {
		fmt.Fprintf(&b, "%04X", unit)
	}
	return b.String()
}

// withTags writes the structure into a finished file, as the writer of the pages has no
// place for it.
func withTags(pdf []byte, root *tag, marks map[int]int) ([]byte, error) {
	api.DisableConfigDir() // nothing is read from or written to the user's folders
	file, err := api.ReadContext(bytes.NewReader(pdf), model.NewDefaultConfiguration())
	if err != nil {
		return nil, err
	}
	if err := file.EnsurePageCount(); err != nil {
		return nil, err
	}
	w := &structure{file: file, owners: map[int]types.Array{}}
	if err := w.pages(marks); err != nil {
		return nil, err
	}
	catalog, err := file.Catalog()
	if err != nil {
		return nil, err
	}
	if err := w.hang(catalog, root); err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = api.WriteContext(file, &out)
	return out.Bytes(), err
}

// A structure is being written into a file.
type structure struct {
	file   *model.Context
	refs   []types.IndirectRef // of the pages, the first at 1
	owners map[int]types.Array // of each page's marks
}

// pages says on each page under which number its marks are found.
func (w *structure) pages(marks map[int]int) error {
	w.refs = make([]types.IndirectRef, w.file.PageCount+1)
	for n := 1; n <= w.file.PageCount; n++ {
		page, ref, _, err := w.file.PageDict(n, false)
		if err != nil {
			return err
		}
		page["StructParents"] = types.Integer(n)
		page["Tabs"] = types.Name("S")
		w.refs[n] = *ref
		w.owners[n] = make(types.Array, marks[n])
	}
	return nil
}

// hang puts the tags under the catalogue.
func (w *structure) hang(catalog types.Dict, root *tag) error {
	top := types.Dict{"Type": types.Name("StructTreeRoot")}
	ref, err := w.file.IndRefForNewObject(top)
	if err != nil {
		return err
	}
	document, err := w.add(root, *ref)
	if err != nil {
		return err
	}
	var numbers types.Array
	for n := 1; n <= w.file.PageCount; n++ {
		owners, err := w.file.IndRefForNewObject(w.owners[n])
		if err != nil {
			return err
		}
		numbers = append(numbers, types.Integer(n), *owners)
	}
	top["K"] = *document
	top["ParentTree"] = types.Dict{"Nums": numbers}
	top["ParentTreeNextKey"] = types.Integer(w.file.PageCount + 1)
	catalog["StructTreeRoot"] = *ref
	catalog["MarkInfo"] = types.Dict{"Marked": types.Boolean(true)}
	catalog["ViewerPreferences"] = types.Dict{"DisplayDocTitle": types.Boolean(true)}
	return nil
}

// add writes a tag with those below it.
func (w *structure) add(t *tag, parent types.IndirectRef) (*types.IndirectRef, error) {
	d := types.Dict{"Type": types.Name("StructElem"), "S": types.Name(t.kind), "P": parent}
	if t.alt != "" {
		d["Alt"] = types.HexLiteral(utf16Hex(t.alt))
	}
	if t.kind == "TH" {
		d["A"] = types.Dict{"O": types.Name("Table"), "Scope": types.Name("Column")}
	}
	ref, err := w.file.IndRefForNewObject(d)
	if err != nil {
		return nil, err
	}
	var kids types.Array
	for _, m := range t.marks {
		w.owners[m.page][m.id] = *ref
		kids = append(kids, types.Dict{"Type": types.Name("MCR"), "Pg": w.refs[m.page], "MCID": types.Integer(m.id)})
	}
	for _, kid := range t.kids {
		below, err := w.add(kid, *ref)
		if err != nil {
			return nil, err
		}
		kids = append(kids, *below)
	}
	d["K"] = kids
	return ref, nil
}
