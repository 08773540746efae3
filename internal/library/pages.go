package library

import (
	"context"
	"errors"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// PagePanel is a report on the pages of a record type.
type PagePanel struct {
	Report Report
	Words  string // "deals of this customer"
	link   string // by which its records belong to that of the page
}

// PutOnPage puts a report on the pages of a record type, linked over the path from its records to them.
func (lib *Library) PutOnPage(ctx context.Context, v *answers.View, typ string, report int64) error {
	if v.Who.Role != people.Administrator {
		return fault.New(fault.Forbidden, "", "Only administrators lay out record pages.")
	}
	r, err := lib.Report(ctx, v, report)
	if err != nil {
		return err
	}
	t := v.Snap.Schema.Type(typ)
	if t == nil {
		return fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	}
	link := linkTo(v, r.whole, typ)
	if link == "" {
		return fault.New(fault.Invalid, "/report", "“%s” starts from records that have no link to %s.", r.Title, strings.ToLower(t.Label))
	}
	err = lib.store.AddPagePanel(ctx, &store.PagePanel{RecordType: typ, Report: report, Link: link})
	if errors.Is(err, store.ErrTaken) {
		return fault.New(fault.Taken, "/report", "“%s” is on these pages already.", r.Title)
	}
	return err
}

// linkTo is the link by which a report's records belong to a record of a type, or "".
func linkTo(v *answers.View, b *brief.Brief, typ string) string {
	if b.Start == "" {
		return ""
	}
	t := v.Snap.Schema.Type(b.Start)
	if t == nil {
		return ""
	}
	for _, f := range t.Fields {
		if f.Kind == schema.Link && f.To == typ && f.Worked == nil && f.Key != "created_by" && f.Key != "changed_by" {
			return f.Key
		}
	}
	return ""
}

// TakeOffPage takes a report off the pages of a record type.
func (lib *Library) TakeOffPage(ctx context.Context, v *answers.View, typ string, report int64) error {
	if v.Who.Role != people.Administrator {
		return fault.New(fault.Forbidden, "", "Only administrators lay out record pages.")
	}
	return fault.FromStore(lib.store.RemovePagePanel(ctx, typ, report), "report on these pages")
}

// PagesOf lists the record types on whose pages a report could stand, and whether it does.
func (lib *Library) PagesOf(ctx context.Context, v *answers.View, r Report) (map[string]bool, error) {
	on := map[string]bool{}
	for _, t := range v.Snap.Schema.Types {
		if linkTo(v, r.whole, t.Key) == "" {
			continue
		}
		panels, err := lib.store.PagePanels(ctx, v.Who.Viewer(), t.Key)
		if err != nil {
			return nil, err
		}
		on[t.Key] = false
		for _, p := range panels {
			on[t.Key] = on[t.Key] || p.Report == r.ID
		}
	}
	return on, nil
}

// Record opens a record with the reports that stand on its page.
func (lib *Library) Record(ctx context.Context, v *answers.View, typ, id string) (*answers.Record, []PagePanel, error) {
	rec, err := v.Record(typ, id)
	if err != nil {
		return nil, nil, err
	}
	panels, err := lib.pagePanels(ctx, v, rec.Type)
	return rec, panels, err
}

// pagePanels are the reports that stand on the pages of a record type.
func (lib *Library) pagePanels(ctx context.Context, v *answers.View, t *schema.Type) ([]PagePanel, error) {
	rows, err := lib.store.PagePanels(ctx, v.Who.Viewer(), t.Key)
	if err != nil {
		return nil, err
	}
	var list []PagePanel
	for _, p := range rows {
		r, err := lib.Report(ctx, v, p.Report)
		if err != nil {
			return nil, err
		}
		start := v.Snap.Schema.Type(r.whole.Start)
		if start == nil || start.Field(p.Link) == nil {
			continue // the report was changed and no longer leads here
		}
		list = append(list, PagePanel{r, strings.ToLower(start.Label) + " of this " + t.One, p.Link})
	}
	return list, nil
}

// of is the panel's brief narrowed to one record.
func (p PagePanel) of(id string) *brief.Brief {
	b := *p.Report.Brief.Brief()
	b.Filter = b.Filter.And(brief.Tree{Field: p.link, Is: "any_of", Values: []string{id}})
	return &b
}
