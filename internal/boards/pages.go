package boards

import (
	"context"
	"errors"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/lookup"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Lights in which a report stands on the page of a record: its own is "".
const (
	LightBelow  = "below"  // of the record and all below it
	LightParent = "parent" // of the record above it, or its own where there is none
	LightAll    = "all"    // of all records
)

// PagePanel is a report on the pages of a record type.
type PagePanel struct {
	Report  library.Report
	Words   string // "deals of this customer"
	Link    string // by which its records belong to that of the page
	Light   string
	Heading string
	Tall    int
	Ways    []library.Way
}

// maxBelow is how many records below one a panel follows; tallest is how tall it is at most, in px.
const (
	maxBelow = 1000
	tallest  = 1200
)

// mayLayOut says whether a person lays out record pages.
func mayLayOut(v *answers.View) error {
	if v.Who.May(people.LayOut) {
		return nil
	}
	return fault.New(fault.Forbidden, "", "Only administrators lay out record pages.")
}

// layable is a report and a record type, on whose pages a person lays it out.
func (bs *Boards) layable(
	ctx context.Context, v *answers.View, typ string, report int64,
) (library.Report, *schema.Type, error) {
	if err := mayLayOut(v); err != nil {
		return library.Report{}, nil, err
	}
	r, err := bs.lib.Report(ctx, v, report)
	if err != nil {
		return r, nil, err
	}
	t := v.Snap.Schema.Type(typ)
	if t == nil {
		err = fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	}
	return r, t, err
}

// PutOnPage puts a report on the pages of a record type, linked over the path from its records to them.
func (bs *Boards) PutOnPage(ctx context.Context, v *answers.View, typ string, report int64) error {
	r, t, err := bs.layable(ctx, v, typ, report)
	if err != nil {
		return err
	}
	ways := library.WaysTo(v, r.Brief.Brief(), typ)
	if len(ways) == 0 {
		return fault.New(fault.Invalid, "/report", "%s", why(t, r))
	}
	link := ways[0].Path
	err = bs.store.AddPagePanel(ctx, &store.PagePanel{RecordType: typ, Report: report, Link: link, Place: last})
	if errors.Is(err, store.ErrTaken) {
		return fault.New(fault.Taken, "/report", "“%s” is on these pages already.", r.Title)
	}
	return err
}

// last is the place of a report that was just put on a page.
const last = 1 << 20

// why says why a report cannot stand on the pages of a type.
func why(t *schema.Type, r library.Report) string {
	if len(r.Brief.Brief().Parts) > 0 {
		return "“" + r.Title + "” is of several record types."
	}
	return "“" + r.Title + "” starts from records that have no link to " + strings.ToLower(t.Label) + "."
}

// Look is how a report stands on the pages of a record type.
type Look struct {
	Link    string `json:"link"`
	Light   string `json:"light,omitempty"`
	Heading string `json:"heading,omitempty"`
	Tall    int    `json:"tall,omitempty"`
}

// SetLook changes how a report stands on the pages of a record type.
func (bs *Boards) SetLook(ctx context.Context, v *answers.View, typ string, report int64, l Look) error {
	r, t, err := bs.layable(ctx, v, typ, report)
	if err != nil {
		return err
	}
	ways := library.WaysTo(v, r.Brief.Brief(), typ)
	switch {
	case !slices.ContainsFunc(ways, func(w library.Way) bool { return w.Path == l.Link }):
		return fault.New(fault.Invalid, "/link", "There is no such way from the report to %s.", strings.ToLower(t.Label))
	case !slices.Contains(lightsOf(t), l.Light):
		return fault.New(fault.Invalid, "/light", "%s have nothing above one another.", t.Label)
	case len(l.Heading) > 200:
		return fault.New(fault.Invalid, "/heading", "A heading has 200 characters at most.")
	case l.Tall < 0 || l.Tall > tallest:
		return fault.New(fault.Invalid, "/tall", "A panel is up to %d px tall.", tallest)
	}
	p := store.PagePanel{RecordType: typ, Report: report, Link: l.Link, Light: l.Light, Heading: l.Heading, Tall: l.Tall}
	return fault.FromStore(bs.store.ChangePagePanel(ctx, &p), "report on these pages")
}

// OrderPage has the reports on the pages of a record type stand in an order.
func (bs *Boards) OrderPage(ctx context.Context, v *answers.View, typ string, reports []int64) error {
	if err := mayLayOut(v); err != nil {
		return err
	}
	return bs.store.OrderPagePanels(ctx, typ, reports)
}

// Placeable is a report that could stand on the pages of a record type, or why it cannot.
type Placeable struct {
	Report library.Report
	Words  string
	Why    string
}

// Placeables are the reports that one may open, those first that can stand on the pages of a record type and do not.
func (bs *Boards) Placeables(ctx context.Context, v *answers.View, typ string) ([]Placeable, error) {
	if err := mayLayOut(v); err != nil {
		return nil, err
	}
	t := v.Snap.Schema.Type(typ)
	if t == nil {
		return nil, fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	}
	reports, err := bs.lib.Reports(ctx, v)
	if err != nil {
		return nil, err
	}
	rows, err := bs.store.PagePanels(ctx, v.Who.Viewer(), typ)
	if err != nil {
		return nil, err
	}
	var can, cannot []Placeable
	for _, r := range reports {
		if slices.ContainsFunc(rows, func(p store.PagePanel) bool { return p.Report == r.ID }) {
			continue
		}
		if ways := library.WaysTo(v, r.Brief.Brief(), typ); len(ways) > 0 {
			can = append(can, Placeable{r, ways[0].Words, ""})
		} else {
			cannot = append(cannot, Placeable{r, "", why(t, r)})
		}
	}
	return append(can, cannot...), nil
}

// lightsOf are the lights in which a report can stand on the pages of a type.
func lightsOf(t *schema.Type) []string {
	if t.Above() == nil {
		return []string{"", LightAll}
	}
	return []string{"", LightBelow, LightParent, LightAll}
}

// TakeOffPage takes a report off the pages of a record type.
func (bs *Boards) TakeOffPage(ctx context.Context, v *answers.View, typ string, report int64) error {
	if err := mayLayOut(v); err != nil {
		return err
	}
	return fault.FromStore(bs.store.RemovePagePanel(ctx, typ, report), "report on these pages")
}

// Record opens a record with the reports that are on its page.
func (bs *Boards) Record(ctx context.Context, v *answers.View, typ, id string) (*lookup.Record, []PagePanel, error) {
	rec, err := lookup.Open(ctx, v, typ, id)
	if err != nil {
		return nil, nil, err
	}
	panels, err := bs.pagePanels(ctx, v, rec.Type)
	return rec, panels, err
}

// pagePanels are the reports that are on the pages of a record type.
func (bs *Boards) pagePanels(ctx context.Context, v *answers.View, t *schema.Type) ([]PagePanel, error) {
	rows, err := bs.store.PagePanels(ctx, v.Who.Viewer(), t.Key)
	if err != nil {
		return nil, err
	}
	var list []PagePanel
	for _, p := range rows {
		r, err := bs.lib.Report(ctx, v, p.Report)
		if err != nil {
			return nil, err
		}
		if panel, ok := pagePanel(v, t, r, p); ok {
			list = append(list, panel)
		}
	}
	return list, nil
}

// pagePanel is a report on the pages of a record type; not where it was changed and its link no longer leads there.
func pagePanel(v *answers.View, t *schema.Type, r library.Report, row store.PagePanel) (p PagePanel, ok bool) {
	ways := library.WaysTo(v, r.Brief.Brief(), t.Key)
	at := slices.IndexFunc(ways, func(w library.Way) bool { return w.Path == row.Link })
	if at < 0 {
		return p, false
	}
	p = PagePanel{r, ways[at].Words, row.Link, row.Light, row.Heading, row.Tall, ways}
	switch row.Light {
	case LightBelow:
		p.Words += " and all below it"
	case LightParent:
		p.Words = strings.Replace(p.Words, "this "+t.One, "the "+t.One+" above this", 1)
	case LightAll:
		p.Words = "of all " + strings.ToLower(t.Label)
	}
	return p, true
}

// of is the panel's brief narrowed to the record whose page it stands on, in its light.
func (p PagePanel) of(v *answers.View, t *schema.Type, id string) (*brief.Brief, error) {
	b := *p.Report.Brief.Brief()
	if p.Light == LightAll {
		return &b, nil
	}
	ids, err := lit(v, t, id, p.Light)
	if err != nil {
		return nil, err
	}
	b.Filter = b.Filter.And(brief.Tree{Field: p.Link, Is: "any_of", Values: ids})
	return &b, nil
}

// lit are the records that a light falls on: the record itself, those below it, or the one above it, as far as the person
// sees them.
func lit(v *answers.View, t *schema.Type, id, light string) ([]string, error) {
	up := t.Above()
	if light == "" || up == nil {
		return []string{id}, nil
	}
	table, err := v.Snap.Table(t.Key)
	if err != nil {
		return nil, err
	}
	row := table.IDs.Row(id)
	if row < 0 {
		return []string{id}, nil
	}
	if light == LightParent {
		c, err := v.Snap.Column(t.Key, up.Key)
		if err != nil || c.At(row) == column.Null || !v.Sight.Sees(t.Key, int32(c.At(row))) {
			return []string{id}, err
		}
		return []string{table.IDs.At(int32(c.At(row)))}, nil
	}
	back := slices.IndexFunc(t.Backs, func(b schema.Back) bool { return b.Type == t.Key && b.Via == up.Key })
	if back < 0 {
		return []string{id}, nil
	}
	many, err := v.Snap.Many(t.Key, t.Backs[back].Key)
	if err != nil {
		return nil, err
	}
	ids, seen := []string{id}, map[int32]bool{row: true}
	for rows := []int32{row}; len(rows) > 0 && len(ids) < maxBelow; {
		var next []int32
		for _, r := range rows {
			for _, below := range many.Of(r) {
				if !seen[below] && v.Sight.Sees(t.Key, below) && len(ids) < maxBelow {
					seen[below] = true
					ids, next = append(ids, table.IDs.At(below)), append(next, below)
				}
			}
		}
		rows = next
	}
	return ids, nil
}
