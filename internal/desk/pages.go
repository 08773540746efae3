package desk

import (
	"context"
	"errors"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/store"
)

// PagePanel is a report on a record's page: its brief narrowed to that record.
type PagePanel struct {
	Report Report
	Brief  brief.Public
	Words  string // "deals of this customer"
}

// PutOnPage puts a report on the pages of a record type, linked over the path from its records to them.
func (d *Desk) PutOnPage(ctx context.Context, who Person, typ string, report int64) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators lay out record pages.")
	}
	r, err := d.Report(ctx, who, report)
	if err != nil {
		return err
	}
	t := d.Snapshot().Schema.Type(typ)
	if t == nil {
		return fail(NotFound, "", "There is no record type “%s”.", typ)
	}
	link := d.linkTo(r.whole, typ)
	if link == "" {
		return fail(Invalid, "/report", "“%s” starts from records that have no link to %s.", r.Title, strings.ToLower(t.Label))
	}
	err = d.store.AddPagePanel(ctx, &store.PagePanel{RecordType: typ, Report: report, Link: link})
	if errors.Is(err, store.ErrTaken) {
		return fail(Taken, "/report", "“%s” is on these pages already.", r.Title)
	}
	return err
}

// linkTo is the link by which a report's records belong to a record of a type, or "".
func (d *Desk) linkTo(b *brief.Brief, typ string) string {
	if b.Start == "" {
		return ""
	}
	t := d.Snapshot().Schema.Type(b.Start)
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
func (d *Desk) TakeOffPage(ctx context.Context, who Person, typ string, report int64) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators lay out record pages.")
	}
	return mapStore(d.store.RemovePagePanel(ctx, typ, report), "report on these pages")
}

// PagesOf lists the record types on whose pages a report could stand, and whether it does.
func (d *Desk) PagesOf(ctx context.Context, who Person, r Report) (map[string]bool, error) {
	on := map[string]bool{}
	for _, t := range d.Snapshot().Schema.Types {
		if d.linkTo(r.whole, t.Key) == "" {
			continue
		}
		panels, err := d.store.PagePanels(ctx, who.viewer(), t.Key)
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

// Record is one record, open.
type Record struct {
	Type   *schema.Type
	ID     string
	Name   string
	Fields []RecordField
	Panels []PagePanel
}

// RecordField is one field of an open record: its value for people, and the record that it links to.
type RecordField struct {
	Field *schema.Field
	Text  string
	To    string // id
	// Hidden says that it links to a record that is not the person's to see.
	Hidden bool
}

// Record opens a record with the reports that stand on its page.
func (d *Desk) Record(ctx context.Context, who Person, typ, id string) (Record, error) {
	v := d.view(who)
	snap := v.snap
	t := snap.Schema.Type(typ)
	missing := fail(NotFound, "", "There is no such record.")
	if t == nil {
		return Record{}, missing
	}
	table, err := snap.Table(typ)
	if err != nil {
		return Record{}, err
	}
	row := table.IDs.Row(id)
	if row < 0 {
		return Record{}, missing
	}
	if !v.sight.Sees(typ, row) {
		return Record{}, missing
	}
	rec := Record{Type: t, ID: id, Name: snap.Name(typ, row)}
	w := writer(snap, v.looks)
	for i := range t.Fields {
		f := &t.Fields[i]
		if column.TodayDependent(f) {
			continue
		}
		c, err := snap.Column(typ, f.Key)
		if err != nil {
			return Record{}, err
		}
		value := c.At(row)
		field := RecordField{Field: f, Text: w.Inner(f.Kind, snap.Text(c, value, table), nil)}
		if f.Kind == schema.Link && value != column.Null {
			seen := v.sight.Sees(f.To, int32(value))
			if seen && f.Worked != nil { // as far up as the person sees
				seen = v.sight.SeesTop(t, f, row)
			}
			if field.To, field.Text = field.Text, snap.Name(f.To, int32(value)); !seen {
				field.To, field.Text, field.Hidden = "", "", true
			}
		}
		rec.Fields = append(rec.Fields, field)
	}
	rec.Panels, err = d.pagePanels(ctx, who, t, id)
	return rec, err
}

func (d *Desk) pagePanels(ctx context.Context, who Person, t *schema.Type, id string) ([]PagePanel, error) {
	rows, err := d.store.PagePanels(ctx, who.viewer(), t.Key)
	if err != nil {
		return nil, err
	}
	var list []PagePanel
	for _, p := range rows {
		r, err := d.Report(ctx, who, p.Report)
		if err != nil {
			return nil, err
		}
		reading := r.Brief.Brief()
		start := d.Snapshot().Schema.Type(reading.Start)
		if start == nil || start.Field(p.Link) == nil {
			continue // the report was changed and no longer leads here
		}
		narrowed := *reading
		only := brief.Tree{Field: p.Link, Is: "any_of", Values: []string{id}}
		filter := brief.Tree{All: []brief.Tree{only}}
		switch own := reading.Filter; {
		case own == nil:
		case own.All != nil:
			filter.All = append(filter.All, own.All...)
		default:
			filter.All = append(filter.All, *own)
		}
		narrowed.Filter = &filter
		list = append(list, PagePanel{r, brief.ForOwner(&narrowed), strings.ToLower(start.Label) + " of this " + t.One})
	}
	return list, nil
}
