package bringin

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/records"
	"uzzel/internal/store"
)

// BringIn brings files in.
type BringIn struct {
	store   *store.Store
	records *records.Records
	files   files
	jobs    jobs
}

// New brings files into the records of a store.
func New(s *store.Store, r *records.Records) *BringIn {
	return &BringIn{store: s, records: r, files: files{now: s.Now}}
}

// May says whether a person may bring files in: administrators and composers, for it is a change of very many records.
func May(v *answers.View) error {
	if !v.Who.May(people.BringIn) {
		return fault.New(fault.Forbidden, "", "Only administrators and composers bring files in.")
	}
	return nil
}

// finder finds records by what a file says of them: their number, their name or their e-mail address.
type finder struct {
	ids   map[string]string // by folded text
	twice map[string]bool
}

// find gives the number of the record that a text names: "" for none. twice says that several have it.
func (f *finder) find(text string) (id string, twice bool) {
	key := column.Fold(strings.TrimSpace(text))
	return f.ids[key], f.twice[key]
}

// finderOf goes over the records of a type that a person may see, by some fields.
func finderOf(v *answers.View, typ string, by ...string) (*finder, error) {
	out := &finder{map[string]string{}, map[string]bool{}}
	for _, key := range by {
		if v.Snap.Schema.Type(typ).Field(key) == nil {
			continue
		}
		err := v.Snap.EachText(typ, key, func(row int32, id, text string) {
			if !v.Sight.Sees(typ, row) {
				return
			}
			text = column.Fold(strings.TrimSpace(text))
			if was, ok := out.ids[text]; ok && was != id {
				out.twice[text] = true
			} else {
				out.ids[text] = id
			}
		})
		if err != nil {
			return nil, err
		}
	}
	return out, nil
}

// try works out what comes of each line.
func (b *BringIn) try(
	ctx context.Context,
	v *answers.View,
	s *Sheet,
	p Plan,
	step func(done int) error,
) (*Outcome, error) {
	t, err := records.Writable(v, p.Type)
	if err != nil {
		return nil, err
	}
	if err := checkPlan(t, s, &p); err != nil {
		return nil, err
	}
	p.Columns = slices.Clone(p.Columns)
	recognise(v, t, s, p.Columns)
	links := map[string]*finder{}
	for _, c := range p.Columns {
		f := t.Field(c.Field)
		if f == nil || f.Kind != schema.Link || links[f.To] != nil {
			continue
		}
		to := v.Snap.Schema.Type(f.To)
		by := []string{"id", to.Name, "email"}
		for i := range to.Fields {
			if to.Fields[i].Unique {
				by = append(by, to.Fields[i].Key)
			}
		}
		if links[f.To], err = finderOf(v, f.To, by...); err != nil {
			return nil, err
		}
	}
	var there *finder
	if p.Key != "" {
		if there, err = finderOf(v, p.Type, p.Key); err != nil {
			return nil, err
		}
	}
	taken := map[string]map[string]string{}
	for i := range t.Fields {
		if f := &t.Fields[i]; f.Unique {
			// Those that the person may not see as well.
			by := map[string]string{}
			if err := v.Snap.EachText(p.Type, f.Key, func(_ int32, id, text string) { by[text] = id }); err != nil {
				return nil, err
			}
			taken[f.Key] = by
		}
	}
	rates, err := ratesThere(v, t)
	if err != nil {
		return nil, err
	}
	out := &Outcome{Makes: map[string]int{}, Unknown: map[string][]string{}, Columns: p.Columns}
	tr := &trial{BringIn: b, v: v, t: t, p: p, sheet: s, links: links, there: there, taken: taken, rates: rates, out: out,
		made: map[[2]string]bool{}, keys: map[string]int{}}
	// In turn with the questions of others.
	err = v.Write(ctx, func(yield func() error) error {
		for i := range s.Rows {
			if i%1000 == 0 {
				if err := errors.Join(yield(), step(i)); err != nil {
					return err
				}
			}
			tr.line(i)
		}
		return tr.compare(ctx)
	})
	return out, err
}

// checkPlan refuses a plan that fits neither the type nor the file.
func checkPlan(t *schema.Type, s *Sheet, p *Plan) error {
	if len(p.Columns) != len(s.Header) {
		return fault.New(
			fault.Invalid,
			"/columns",
			"The file has %d columns, and the plan %d.",
			len(s.Header),
			len(p.Columns),
		)
	}
	seen := map[string]bool{}
	known := map[string]bool{}
	for _, f := range fields(t) {
		known[f.Key] = true
	}
	for i, c := range p.Columns {
		switch {
		case c.Field == "":
			continue
		case !known[c.Field] && (fieldOf(t, c.Field) == nil || fieldOf(t, c.Field) == t.Field(c.Field)):
			return fault.New(
				fault.Invalid,
				"/columns/"+strconv.Itoa(i),
				"%s have no field “%s” that is brought in.",
				t.Label,
				c.Field,
			)
		case seen[c.Field]:
			return fault.New(fault.Invalid, "/columns/"+strconv.Itoa(i), "Two columns are “%s”.", fieldOf(t, c.Field).Label)
		case c.Form != "" && layouts[c.Form] == nil && c.Form != Point && c.Form != Comma:
			return fault.New(fault.Invalid, "/columns/"+strconv.Itoa(i), "“%s” is no form.", c.Form)
		}
		seen[c.Field] = true
	}
	switch {
	case len(seen) == 0:
		return fault.New(fault.Invalid, "/columns", "Say of at least one column what it is.")
	case p.Key != "" && !seen[p.Key]:
		return fault.New(fault.Invalid, "/key", "No column is “%s”, by which lines are to be found.", p.Key)
	}
	return nil
}

// trial is one file that is tried.
type trial struct {
	*BringIn
	v     *answers.View
	t     *schema.Type
	p     Plan
	sheet *Sheet
	links map[string]*finder
	there *finder
	out   *Outcome
	taken map[string]map[string]string // by field whose values are unique, and value: the record, or line, that has it
	made  map[[2]string]bool           // by type and name: the records that links have be made
	keys  map[string]int               // by key: the line that has it
	rates map[[2]string]string         // by currency and day: the exchange rate there is
}

func (tr *trial) refuse(i, col int, format string, args ...any) {
	name := ""
	if col >= 0 {
		name = tr.sheet.Header[col]
	}
	tr.out.Refused = append(
		tr.out.Refused,
		Refused{tr.sheet.Lines[i], name, fmt.Sprintf(format, args...), tr.sheet.Rows[i]},
	)
}

// line works out one line.
func (tr *trial) line(i int) {
	row := tr.sheet.Rows[i]
	values := records.Values{}
	columnOf := map[string]int{}
	var key string
	steps, ok := tr.steps(i)
	if !ok {
		return
	}
	for col, c := range tr.p.Columns {
		f := tr.t.Field(c.Field)
		if f == nil || f.Worked != nil {
			continue
		}
		columnOf[f.Key] = col
		cell := strings.TrimSpace(row[col])
		if f.Key == tr.p.Key {
			key = cell
		}
		if f.Kind == schema.ID {
			continue
		}
		if f.Kind == schema.Link && cell != "" {
			to, ok := tr.link(f, cell, i, col)
			if !ok {
				return
			}
			values[f.Key] = to
			continue
		}
		if f.Kind == schema.Text {
			cell = row[col]
		}
		values[f.Key] = written(f, c.Form, cell)
	}
	for col, c := range tr.p.Columns {
		if f := tr.t.Field(
			c.Field,
		); f != nil && f.Kind == schema.Money && f.Worked == nil &&
			!tr.currency(i, col, row[col], values) {
			return
		}
	}
	var id int64
	if tr.t.Rates && tr.p.Key == "" {
		if id, ok = tr.rate(i, values); !ok {
			return
		}
	}
	if tr.p.Key != "" {
		if key == "" {
			tr.refuse(i, columnOf[tr.p.Key], "it has no %s to be found by", strings.ToLower(tr.t.Field(tr.p.Key).Label))
			return
		}
		folded := column.Fold(key)
		if was, ok := tr.keys[folded]; ok {
			tr.refuse(i, columnOf[tr.p.Key], "line %d has “%s” already", was, key)
			return
		}
		tr.keys[folded] = tr.sheet.Lines[i]
		found, twice := tr.there.find(key)
		if twice {
			tr.refuse(i, columnOf[tr.p.Key], "several %s have “%s”", strings.ToLower(tr.t.Label), key)
			return
		}
		id, _ = strconv.ParseInt(found, 10, 64)
		if id == 0 && tr.t.Field(tr.p.Key).Kind == schema.ID {
			tr.refuse(i, columnOf[tr.p.Key], "there is no %s of the number %s that you may see", tr.t.One, key)
			return
		}
	}
	if n := len(steps); n > 0 && id == 0 && values[tr.t.Staged().Key] == "" {
		values[tr.t.Staged().Key] = steps[n-1].stage // it is where it came to last
	}
	checked, wrong := tr.records.Checked(tr.v, tr.t.Key, values, id == 0)
	if len(wrong) > 0 {
		field := strings.TrimPrefix(wrong[0].Pointer, "/")
		col, ok := columnOf[field]
		if !ok {
			col = -1
		}
		tr.refuse(i, col, "%s", strings.TrimSuffix(wrong[0].Message, "."))
		tr.unknown(wrong, values)
		return
	}
	if !tr.claim(i, id, checked, columnOf) {
		return
	}
	if id == 0 {
		past, ok := tr.past(i, steps, checked)
		if !ok {
			return
		}
		tr.out.New++
		tr.out.creates = append(tr.out.creates, records.Make{Values: checked, Past: past})
		return
	}
	tr.out.edits = append(tr.out.edits, records.Edit{ID: id, Values: checked})
}

// maxUnknown is how many values that are no choices are listed of a field.
const maxUnknown = 200

// unknown notes the values that were refused for being none of the choices.
func (tr *trial) unknown(wrong records.Refusals, values records.Values) {
	for _, w := range wrong {
		f := tr.t.Field(strings.TrimPrefix(w.Pointer, "/"))
		if f == nil || f.Kind != schema.Choice || f.Stages || len(f.Choices) == 0 {
			continue
		}
		text := strings.TrimSpace(values[f.Key])
		list := tr.out.Unknown[f.Key]
		if len(list) < maxUnknown &&
			!slices.ContainsFunc(list, func(s string) bool { return column.Fold(s) == column.Fold(text) }) {
			tr.out.Unknown[f.Key] = append(list, text)
		}
	}
}

// claim refuses a line with a value that another record or an earlier line has, where no two may have the same.
func (tr *trial) claim(i int, id int64, values records.Values, columnOf map[string]int) bool {
	for key, by := range tr.taken {
		text := values[key]
		if text == "" {
			continue
		}
		col, ok := columnOf[key]
		if !ok {
			col = -1
		}
		own := strconv.FormatInt(id, 10)
		if holder := by[text]; holder != "" && holder != own {
			what := "another " + tr.t.One // which one may not be theirs to see
			if line, ok := strings.CutPrefix(holder, "line "); ok {
				what = "line " + line
			}
			tr.refuse(i, col, "%s has “%s” already", what, text)
			return false
		}
		if by[text] = own; id == 0 {
			by[text] = "line " + strconv.Itoa(tr.sheet.Lines[i])
		}
	}
	return true
}

// compare leaves of the edits what is other than the records are.
func (tr *trial) compare(ctx context.Context) error {
	ids := make([]int64, len(tr.out.edits))
	for i, e := range tr.out.edits {
		ids[i] = e.ID
	}
	kept, err := tr.store.ReadRecords(ctx, tr.t.Key, ids)
	if err != nil {
		return err
	}
	edits := tr.out.edits[:0]
	for _, e := range tr.out.edits {
		maps.DeleteFunc(e.Values, func(key, text string) bool { return kept[e.ID][key] == text })
		if len(e.Values) == 0 {
			tr.out.Same++
			continue
		}
		edits = append(edits, e)
	}
	tr.out.edits, tr.out.Changed = edits, len(edits)
	return nil
}

// link finds the record that a cell names, or has it be made.
func (tr *trial) link(f *schema.Field, cell string, i, col int) (string, bool) {
	to := tr.v.Snap.Schema.Type(f.To)
	found, twice := tr.links[f.To].find(cell)
	switch {
	case twice:
		tr.refuse(i, col, "several %s are called “%s”; name the number", strings.ToLower(to.Label), cell)
		return "", false
	case found != "":
		return found, true
	case !tr.p.Make || to.Readers || to.Name == "" || to.History:
		tr.refuse(i, col, "there is no %s “%s”", to.One, cell)
		return "", false
	}
	if at := [2]string{to.Key, column.Fold(cell)}; !tr.made[at] {
		tr.made[at] = true
		tr.out.Makes[to.Label]++
	}
	return records.Named(cell), true
}
