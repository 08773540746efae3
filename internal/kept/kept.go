// Package kept looks after results that people keep: a dated, named copy of an answer with its question and its records,
// which never changes, is compared with today, and can be opened and taken out when the records are gone.
package kept

import (
	"context"
	"encoding/json"
	"errors"
	"iter"
	"strings"
	"time"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/table"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/naming"
	"uzzel/internal/packed"
	"uzzel/internal/store"
)

// Limits of what a person keeps.
const (
	MaxKept  = 200
	maxBytes = 64 << 20 // of a copy before it is packed
)

// Results are the results that people of an organisation keep. Each is its owner's alone: it holds what they saw.
type Results struct {
	store *store.Store
	lib   *library.Library
}

// New gives the kept results of a store.
func New(s *store.Store, lib *library.Library) *Results { return &Results{s, lib} }

// Result is a kept result; its copy is read only where it is opened.
type Result struct {
	ID     int64
	Name   string
	Report int64  // the report that it is of, 0 for none
	Day    string // as a brief names it
	When   string // for people
	Brief  *brief.Brief
	Copy   *answers.Copy
	Fixed  bool // whether conditions hold besides that its report's owner fixed
}

// Keep keeps what a brief is answered now. report is the report that it is a reading of, 0 for none; what its owner does
// not let out is not kept either.
func (k *Results) Keep(
	ctx context.Context,
	v *answers.View,
	report int64,
	b *brief.Brief,
	name string,
) (*Result, error) {
	if v.Who.SeenBy != 0 {
		return nil, fault.New(fault.Forbidden, "", "What somebody else sees is not kept.")
	}
	asked, err := k.lib.MayTake(ctx, v, report, b)
	if err != nil {
		return nil, err
	}
	c, pinned, err := v.Copy(ctx, asked)
	if err != nil {
		return nil, err
	}
	if strings.TrimSpace(name) == "" {
		name = c.Title
	}
	if name, err = naming.Title(name, "/name"); err != nil {
		return nil, err
	}
	text, err := json.Marshal(pinned)
	if err != nil {
		return nil, err
	}
	row := store.KeptResult{
		Owner:  v.Who.ID,
		Report: report,
		Name:   name,
		Day:    period.FormatDay(v.Day),
		Brief:  string(text),
		Fixed:  brief.Narrowed(asked),
	}
	row.Copy, err = packed.Pack(c, maxBytes)
	if errors.Is(err, packed.ErrLarge) {
		err = fault.New(fault.TooLarge, "", "This is too large to be kept. Choose fewer columns or narrow it first.")
	}
	if err != nil {
		return nil, err
	}
	room, err := k.store.AddKeptResult(ctx, &row, MaxKept)
	if err != nil {
		return nil, err
	}
	if !room {
		return nil, fault.New(
			fault.TooLarge,
			"",
			"You keep %d results already, which is as many as there is room for. Delete one you no longer need.",
			MaxKept,
		)
	}
	return k.read(v, row)
}

// Of lists what a person kept, the newest first, without the copies: of one report where it is not 0.
func (k *Results) Of(ctx context.Context, v *answers.View, report int64) ([]Result, error) {
	rows, err := k.store.KeptResults(ctx, v.Who.ID, report)
	if err != nil {
		return nil, err
	}
	list := []Result{}
	for _, row := range rows {
		r, err := k.read(v, row)
		if err != nil {
			return nil, err
		}
		list = append(list, *r)
	}
	return list, nil
}

// Open opens what a person kept.
func (k *Results) Open(ctx context.Context, v *answers.View, id int64) (*Result, error) {
	row, err := k.store.KeptResult(ctx, v.Who.ID, id)
	if err != nil {
		return nil, fault.FromStore(err, "kept result")
	}
	return k.read(v, row)
}

func (k *Results) read(v *answers.View, row store.KeptResult) (*Result, error) {
	r := &Result{
		ID: row.ID, Name: row.Name, Report: row.Report, Day: row.Day, Fixed: row.Fixed,
	}
	day, err := period.ParseDay(row.Day)
	if err != nil {
		return nil, err
	}
	r.When = v.Figures.Form.Day(day) + time.Unix(row.At, 0).In(v.Snap.Cal.Zone).Format(", 15:04")
	if r.Brief, err = brief.Decode([]byte(row.Brief)); err != nil {
		r.Brief, err = nil, nil // of an earlier form: it is still read, and not compared
	}
	if row.Copy != nil {
		r.Copy = &answers.Copy{}
		err = packed.Unpack(row.Copy, maxBytes, r.Copy)
	}
	return r, err
}

// Against compares what a person kept with what its brief is answered now, over the same days.
func (k *Results) Against(ctx context.Context, v *answers.View, id int64) (*answers.Against, error) {
	r, err := k.Open(ctx, v, id)
	if err != nil {
		return nil, err
	}
	if r.Brief == nil {
		return nil, fault.New(
			fault.Invalid,
			"",
			"This was kept in a form that is no longer asked. It can be read and taken out.",
		)
	}
	asked := r.Brief
	if r.Fixed {
		if asked, err = k.lib.Reading(ctx, v, r.Report, r.Brief); fault.Is(err, fault.NotFound) {
			err = fault.New(
				fault.NotFound,
				"",
				"The report that this is of is no longer open to you, so it cannot be compared. It can be read and taken out.",
			)
		}
		if err != nil {
			return nil, err
		}
	}
	return v.Against(ctx, r.Copy, asked)
}

// Name calls what a person kept something else.
func (k *Results) Name(ctx context.Context, v *answers.View, id int64, name string) error {
	name, err := naming.Title(name, "/name")
	if err != nil {
		return err
	}
	return fault.FromStore(k.store.NameKeptResult(ctx, v.Who.ID, id, name), "kept result")
}

// Delete deletes what a person kept, for good.
func (k *Results) Delete(ctx context.Context, v *answers.View, id int64) error {
	return fault.FromStore(k.store.DeleteKeptResult(ctx, v.Who.ID, id), "kept result")
}

// Extract takes the groups (summary) or the records out, as they were kept.
func (r *Result) Extract(v *answers.View, view string) (*answers.Extract, error) {
	out := &answers.Extract{Title: r.Name, View: view}
	if r.Brief != nil {
		out.Brief = brief.ForOwner(r.Brief)
	}
	c := r.Copy
	var lines [][]string
	switch {
	case view == "summary":
		out.Columns = c.Columns
		inner := c.Lines
		if len(c.Groups) > 0 {
			inner = inner[:len(inner)-1]
		}
		for _, l := range inner {
			lines = append(lines, append(append([]string{}, l.Labels...), l.File...))
		}
	case view == "records" && c.Records != nil:
		out.Columns, lines = c.Records.Sheet, c.Records.File
	default:
		return nil, fault.New(
			fault.Invalid,
			"/view",
			"What was kept has a summary, and records where it is of one record type.",
		)
	}
	out.Rows = seq(lines)
	out.About = [][2]string{{"Kept", r.Name}, {"As it was on", r.When}, {"Sentence", c.Text}}
	if c.Days != "" {
		out.About = append(out.About, [2]string{"Days", c.Days})
	}
	out.About = append(out.About, [2]string{"Taken by", v.Who.Name}, [2]string{"On", v.Figures.Form.Day(v.Day)})
	return out, nil
}

func seq(lines [][]string) iter.Seq2[result.Line, error] {
	return func(yield func(result.Line, error) bool) {
		for _, cells := range lines {
			if !yield(result.Line{Cells: cells}, nil) {
				return
			}
		}
	}
}

// Page is a stretch of the records that were kept.
func (r *Result) Page(from, count int) []table.Row {
	if r.Copy.Records == nil {
		return nil
	}
	rows := r.Copy.Records.Rows
	from = max(0, min(from, len(rows)))
	return rows[from:min(len(rows), from+max(count, 0))]
}
