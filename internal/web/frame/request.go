package frame

import (
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"
)

// FromHTMX reports whether a page asks for a part of itself.
func FromHTMX(c *gin.Context) bool { return c.GetHeader("HX-Request") == "true" }

// ID reads a record's number from the address; 0, which none has, when it is
// not one.
func ID(c *gin.Context) int64 { return Number(c.Param("id")) }

// Number reads a whole number, 0 when it is not one.
func Number(text string) int64 {
	n, err := strconv.ParseInt(text, 10, 64)
	if err != nil {
		return 0
	}
	return n
}

// Typed returns the posted form as field texts.
func Typed(c *gin.Context) (map[string]string, error) {
	if err := c.Request.ParseForm(); err != nil {
		return nil, err
	}
	return Flat(c.Request.PostForm), nil
}

// Flat takes the last value of each field, so that a hidden "no" before a box
// is overruled by it.
func Flat(form url.Values) map[string]string {
	out := make(map[string]string, len(form))
	for k, v := range form {
		out[k] = v[len(v)-1]
	}
	return out
}

// Local is an address of this program that was sent along, else another. A browser
// drops tabs and line ends from an address: one that has them is none of ours.
func Local(sent, other string) string {
	u, err := url.Parse(sent)
	if err != nil || !strings.HasPrefix(sent, "/") || strings.HasPrefix(sent, "//") ||
		strings.ContainsAny(sent, "\\\t\r\n") || u.Host != "" || u.Scheme != "" {
		return other
	}
	return sent
}

// Go sends the browser on after a change.
func Go(c *gin.Context, address string) error {
	c.Redirect(http.StatusSeeOther, address)
	return nil
}

// Nothing answers that there is nothing to change.
func Nothing(c *gin.Context) error {
	c.Status(http.StatusNoContent)
	return nil
}

// Piece is the address of a piece, with what is below it.
func Piece(id int64, below ...string) string {
	return "/pieces/" + strconv.FormatInt(id, 10) + strings.Join(below, "")
}

// Attach names an answer as a file to keep.
func Attach(c *gin.Context, name string) {
	c.Header("Content-Disposition", `attachment; filename="`+name+`"`)
}

// A Pager is where a list stands that shows a page at a time.
type Pager struct {
	Find       string
	Page, Last int
	Total      int
	Size       int
	With       url.Values // what else the list is chosen by
}

// At is the address of another page of the list.
func (p Pager) At(page int) string {
	q := url.Values{}
	for k, v := range p.With {
		q[k] = v
	}
	q.Set("find", p.Find)
	q.Set("page", strconv.Itoa(page))
	return "?" + q.Encode()
}

// Paged reads which page of a list is wanted and what it is searched for.
func Paged(c *gin.Context, size int) Pager {
	page, _ := strconv.Atoi(c.Query("page"))
	return Pager{Find: strings.TrimSpace(c.Query("find")), Page: max(page, 1), Size: size}
}

// Load reads the page with read, which returns how many rows there are in all;
// of a page that has gone, the last one.
func (p *Pager) Load(read func(find string, limit, offset int) (total int, err error)) error {
	total, err := read(p.Find, p.Size, (p.Page-1)*p.Size)
	if err != nil {
		return err
	}
	p.Total, p.Last = total, max(1, (total+p.Size-1)/p.Size)
	if p.Page > p.Last {
		p.Page = p.Last
		_, err = read(p.Find, p.Size, (p.Page-1)*p.Size)
	}
	return err
}
