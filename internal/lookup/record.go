// Package lookup finds single things of the records that a person sees: a record with its fields, records by name, and the
// values that a field has.
package lookup

import (
	"cmp"
	"context"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
)

// Record is one record, open.
type Record struct {
	Type   *schema.Type
	ID     string
	Name   string
	Fields []RecordField
}

// RecordField is one field of an open record: its value for people, and the record that it links to.
type RecordField struct {
	Field *schema.Field
	Text  string
	To    string // id
	// Hidden says that it links to a record that is not the person's to see.
	Hidden bool
	// Worth is what an amount in another currency comes to in the organisation's, or says that it cannot be told.
	Worth string
}

// Seen is the row of a record that the person may see: NotFound where there is none.
func Seen(v *answers.View, typ, id string) (*schema.Type, *column.Table, int32, error) {
	t := v.Snap.Schema.Type(typ)
	missing := fault.New(fault.NotFound, "", "There is no such record.")
	if t == nil {
		return nil, nil, 0, missing
	}
	table, err := v.Snap.Table(typ)
	if err != nil {
		return nil, nil, 0, err
	}
	row := table.IDs.Row(id)
	if row < 0 || !v.Sight.Sees(typ, row) {
		return nil, nil, 0, missing
	}
	return t, table, row, nil
}

// Open opens a record: NotFound for one that the person may not see.
func Open(ctx context.Context, v *answers.View, typ, id string) (*Record, error) {
	snap := v.Snap
	t, table, row, err := Seen(v, typ, id)
	if err != nil {
		return nil, err
	}
	rec := &Record{Type: t, ID: id, Name: snap.Name(typ, row)}
	w := v.PlainWriter()
	currency, err := currencyOf(snap, t, row)
	if err != nil {
		return nil, err
	}
	worked, err := inRuns(ctx, v, t, id, currency != "")
	if err != nil {
		return nil, err
	}
	own := w.In(cmp.Or(currency, w.Currency))
	for i := range t.Fields {
		f := &t.Fields[i]
		if column.TodayDependent(f) {
			rec.Fields = append(rec.Fields, RecordField{Field: f, Text: w.Field(f.Kind, f, worked[f.Key], nil)})
			continue
		}
		c, err := snap.Column(typ, f.Key)
		if err != nil {
			return nil, err
		}
		value := c.At(row)
		field := RecordField{Field: f, Text: own.Field(f.Kind, f, snap.Text(c, value, table), nil)}
		if currency != "" && f.Kind == schema.Money && value != column.Null {
			field.Worth = cmp.Or(w.Field(f.Kind, f, worked[f.Key], nil), "without an exchange rate")
		}
		if f.Kind == schema.Link && value != column.Null {
			seen := v.Sight.Sees(f.To, int32(value))
			if seen && f.Worked != nil { // as far up as the person sees
				seen = v.Sight.SeesTop(t, f, row)
			}
			if field.To, field.Text = field.Text, snap.Name(f.To, int32(value)); !seen {
				field.To, field.Text, field.Hidden = "", "", true
			}
		}
		rec.Fields = append(rec.Fields, field)
	}
	return rec, nil
}

// currencyOf is in which currency a record's amounts are; "" for the organisation's.
func currencyOf(snap *column.Snapshot, t *schema.Type, row int32) (string, error) {
	whole := snap.Schema.Whole()
	if t = whole.Type(t.Key); t.Currency == "" {
		return "", nil
	}
	c, code, err := snap.Whole().Behind(t, t.Currency, row)
	if err != nil {
		return "", err
	}
	if code == column.Null || strings.EqualFold(c.Dict.Values()[code], whole.Settings.Currency) {
		return "", nil
	}
	return c.Dict.Values()[code], nil
}

// inRuns are the values of a record's fields that are worked out in each run, by field. A formula that cannot be worked
// out any more has none.
// Those of amounts are what they are worth in the organisation's currency, where that is asked.
func inRuns(ctx context.Context, v *answers.View, t *schema.Type, id string, worth bool) (map[string]string, error) {
	b := &brief.Brief{Version: 1, Part: brief.Part{Start: t.Key, Filter: &brief.Tree{
		Field: "id", Is: "any_of", Values: []string{id},
	}}}
	for i := range t.Fields {
		f := &t.Fields[i]
		if column.TodayDependent(f) && (f.Formula() == "" || brief.CheckFormula(v.Snap.Schema, t.Key, f.Formula()) == nil) {
			b.Columns = append(b.Columns, brief.Column{Field: f.Key})
		} else if worth && f.Kind == schema.Money {
			b.Columns = append(b.Columns, brief.Column{Field: f.Key})
		}
	}
	out := map[string]string{}
	if len(b.Columns) == 0 {
		return out, nil
	}
	list, err := v.List(ctx, b)
	if err != nil {
		return nil, err
	}
	page, err := list.Page(ctx, 0, 1)
	if err != nil || len(page.Texts) == 0 {
		return out, err
	}
	for i, c := range b.Columns {
		out[c.Field] = page.Texts[0][i]
	}
	return out, nil
}
