package billing

import (
	"context"
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
)

// A Client is who ordered or bought something, with all of it.
type Client struct {
	Name   string
	Deals  []Deal // newest first
	Pieces []pieces.Piece
	Paid   decimal.Decimal
	Likes  []string
	Places []string // where things hang, and how large they are asked
	Asks   []Deal   // whom to ask how it is, or what waits for them
}

// Client gathers a client by the name that stands on commissions and sales.
func (s *Service) Client(ctx context.Context, name string) (Client, error) {
	c := Client{Name: strings.TrimSpace(name)}
	list, _, err := s.commissions.List(ctx, store.CommissionFilter{Client: c.Name}, mostDeals, 0)
	if err != nil {
		return c, err
	}
	for _, com := range list {
		if !strings.EqualFold(strings.TrimSpace(com.Client), c.Name) || c.Name == "" {
			continue
		}
		d, err := s.Deal(ctx, com.ID)
		if err != nil {
			return c, err
		}
		c.add(d)
		of, err := s.pieces.Of(ctx, com.ID)
		if err != nil {
			return c, err
		}
		c.Pieces = append(c.Pieces, slices.DeleteFunc(of, func(p pieces.Piece) bool { return p.Tile })...)
	}
	return c, s.addSales(ctx, &c)
}

func (c *Client) add(d Deal) {
	c.Deals = append(c.Deals, d)
	c.Paid = c.Paid.Add(d.Paid)
	if d.Likes != "" {
		c.Likes = append(c.Likes, d.Likes)
	}
	if place := strings.Trim(d.Place+", "+d.Size, ", "); place != "" {
		c.Places = append(c.Places, place)
	}
	if d.Next.Who || d.Next.Step == StepAsk {
		c.Asks = append(c.Asks, d)
	}
}

// addSales adds pieces that were sold to the client by themselves.
func (s *Service) addSales(ctx context.Context, c *Client) error {
	asked, err := s.prices.AllAsked(ctx)
	if err != nil {
		return err
	}
	for id, a := range asked {
		if a.Sold.IsZero() || c.Name == "" || !strings.EqualFold(strings.TrimSpace(a.To), c.Name) {
			continue
		}
		p, err := s.pieces.Piece(ctx, id)
		if err != nil {
			return err
		}
		c.Pieces, c.Paid = append(c.Pieces, p), c.Paid.Add(a.For)
	}
	return nil
}
