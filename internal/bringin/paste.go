package bringin

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/records"
)

// PastedRow is what is pasted into a record: by the key of the field, as it was copied elsewhere.
type PastedRow struct {
	ID     int64
	Values map[string]string
}

// Paste sets fields of records to texts as a spreadsheet shows them: numbers and days in the form that most of a column
// has, links by number or name, choices whatever their case. All of it is set, or nothing; it gives what was changed.
func (b *BringIn) Paste(
	ctx context.Context, v *answers.View, typ string, rows []PastedRow,
) ([]records.ChangedField, error) {
	t, err := records.Writable(v, typ)
	if err != nil {
		return nil, err
	}
	if len(rows) == 0 || len(rows) > records.Most {
		return nil, fault.New(fault.Invalid, "/rows", "One to %d rows are pasted at a time.", records.Most)
	}
	cells := map[string][]string{}
	for _, r := range rows {
		for key, text := range r.Values {
			cells[key] = append(cells[key], text)
		}
	}
	values := make([]map[string]string, len(rows))
	for i := range values {
		values[i] = map[string]string{}
	}
	for _, key := range slices.Sorted(maps.Keys(cells)) {
		f := t.Field(key)
		if f == nil || !f.Written() {
			return nil, fault.New(fault.Invalid, "/rows/0/values/"+key, "Nothing is written into this column.")
		}
		read, err := pasted(v, f, cells[key])
		if err != nil {
			return nil, err
		}
		for i, r := range rows {
			text, ok := r.Values[key]
			if !ok {
				continue
			}
			if values[i][key], err = read(text); err != nil {
				return nil, fault.New(
					fault.Invalid,
					fmt.Sprintf("/rows/%d/values/%s", i, key),
					"Row %d, %s: %s.",
					i+1,
					f.Label,
					err,
				)
			}
		}
	}
	edits, before := make([]records.Edit, len(rows)), make([]map[string]string, len(rows))
	for i, r := range rows {
		was, err := b.records.Read(ctx, v, typ, r.ID)
		if err != nil {
			return nil, err
		}
		edits[i], before[i] = records.Edit{ID: r.ID, Version: was.Version, Values: values[i]}, was.Values
	}
	after, err := b.records.Change(ctx, v, typ, edits)
	if err != nil {
		return nil, err
	}
	var changed []records.ChangedField
	for i := range after {
		for j := range t.Fields {
			key := t.Fields[j].Key
			if from, to := before[i][key], after[i].Values[key]; from != to && t.Fields[j].Written() {
				changed = append(changed, records.ChangedField{ID: after[i].ID, Field: key, From: from, To: to})
			}
		}
	}
	return changed, nil
}

// pasted gives what reads the cells of a field.
func pasted(v *answers.View, f *schema.Field, cells []string) (func(text string) (string, error), error) {
	form, _ := formOf(f, cells, "")
	switch f.Kind {
	case schema.Link:
		by := []string{"id"}
		if to := v.Snap.Schema.Type(f.To); to.Name != "" {
			by = append(by, to.Name)
		}
		there, err := finderOf(v, f.To, by...)
		if err != nil {
			return nil, err
		}
		return func(text string) (string, error) {
			if strings.TrimSpace(text) == "" {
				return "", nil
			}
			id, twice := there.find(text)
			switch {
			case twice:
				return "", fmt.Errorf("several are named “%s”", text)
			case id == "":
				return "", fmt.Errorf("there is no “%s” that you may see", text)
			}
			return id, nil
		}, nil
	case schema.Choice:
		return func(text string) (string, error) {
			text = strings.TrimSpace(text)
			for _, c := range f.Choices {
				if column.Fold(c) == column.Fold(text) {
					return c, nil
				}
			}
			return text, nil
		}, nil
	case schema.Text:
		return func(text string) (string, error) { return text, nil }, nil
	}
	return func(text string) (string, error) { return written(f, form, text), nil }, nil
}
