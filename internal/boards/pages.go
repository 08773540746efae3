package boards

import (
	"context"
	"errors"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/lookup"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// PagePanel is a report on the pages of a record type.
type PagePanel struct {
	Report library.Report
	Words  string // "deals of this customer"
	link   string // by which its records belong to that of the page
}

// PutOnPage puts a report on the pages of a record type, linked over the path from its records to them.
func (bs *Boards) PutOnPage(ctx context.Context, v *answers.View, typ string, report int64) error {
	if v.Who.Role != people.Administrator {
		return fault.New(fault.Forbidden, "", "Only administrators lay out record pages.")
	}
	r, err := bs.lib.Report(ctx, v, report)
	if err != nil {
		return err
	}
	t := v.Snap.Schema.Type(typ)
	if t == nil {
		return fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	}
	link := library.LinkTo(v, r.Brief.Brief(), typ)
	if link == "" {
		return fault.New(
			fault.Invalid,
			"/report",
			"“%s” starts from records that have no link to %s.",
			r.Title,
			strings.ToLower(t.Label),
		)
	}
	err = bs.store.AddPagePanel(ctx, &store.PagePanel{RecordType: typ, Report: report, Link: link})
	if errors.Is(err, store.ErrTaken) {
		return fault.New(fault.Taken, "/report", "“%s” is on these pages already.", r.Title)
	}
	return err
}

// TakeOffPage takes a report off the pages of a record type.
func (bs *Boards) TakeOffPage(ctx context.Context, v *answers.View, typ string, report int64) error {
	if v.Who.Role != people.Administrator {
		return fault.New(fault.Forbidden, "", "Only administrators lay out record pages.")
	}
	return fault.FromStore(bs.store.RemovePagePanel(ctx, typ, report), "report on these pages")
}

// Record opens a record with the reports that are on its page.
func (bs *Boards) Record(ctx context.Context, v *answers.View, typ, id string) (*lookup.Record, []PagePanel, error) {
	rec, err := lookup.Open(v, typ, id)
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
		if panel, ok := pagePanel(v, t, r, p.Link); ok {
			list = append(list, panel)
		}
	}
	return list, nil
}

// pagePanel is a report on the pages of a record type; not where it was changed and its link no longer leads there.
func pagePanel(v *answers.View, t *schema.Type, r library.Report, link string) (p PagePanel, ok bool) {
	start := v.Snap.Schema.Type(r.Brief.Brief().Start)
	if start == nil || start.Field(link) == nil {
		return p, false
	}
	return PagePanel{r, strings.ToLower(start.Label) + " of this " + t.One, link}, true
}

// of is the panel's brief narrowed to one record.
func (p PagePanel) of(id string) *brief.Brief {
	b := *p.Report.Brief.Brief()
	b.Filter = b.Filter.And(brief.Tree{Field: p.link, Is: "any_of", Values: []string{id}})
	return &b
}
