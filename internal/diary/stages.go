package diary

import (
	"context"
	"slices"
	"strconv"

	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/lookup"
	"uzzel/internal/store"
)

// Step is a stage on the way of a record: one of its pipeline.
type Step struct {
	Stage  string
	Status string
	Since  string // the day it came there last, for people; "" for never
	Days   int    // that it was there, all in all
	Now    bool
}

// Way is the way of a record through its stages; Field is where its stage is kept, "" for a record type without any.
type Way struct {
	Field string
	Steps []Step
}

// Stages tells the way of a record through its stages.
func (d *Diary) Stages(ctx context.Context, v *answers.View, about Ref) (Way, error) {
	t, table, row, err := lookup.Seen(v, about.Type, strconv.FormatInt(about.ID, 10))
	if err != nil {
		return Way{}, err
	}
	f := t.Staged()
	if f == nil {
		return Way{}, nil
	}
	r := reader{v: v, t: t, table: table}
	now, err := r.text(f.Key, row)
	if err != nil {
		return Way{}, err
	}
	created, err := r.text("created", row)
	if err != nil {
		return Way{}, err
	}
	rows, err := d.store.ChangesOf(ctx, t.Key, about.ID, maxChanges)
	if err != nil {
		return Way{}, err
	}
	slices.Reverse(rows)
	rows = slices.DeleteFunc(rows, func(c store.Change) bool { return c.Field != f.Key })
	way := Way{Field: f.Key, Steps: stepsOf(t.Stages, now)}
	cal, at := v.Snap.Cal, map[string]int{}
	for i := range way.Steps {
		at[way.Steps[i].Stage] = i
	}
	begun, was := int32(0), now
	if at, err := cal.ParseInstant(created); err == nil {
		begun = cal.DayOf(at)
	}
	if len(rows) > 0 {
		was = rows[0].From
	}
	stay := func(stage string, from, to int32) {
		if i, ok := at[stage]; ok && from > 0 {
			way.Steps[i].Days += int(max(0, to-from))
			way.Steps[i].Since = v.Figures.Form.Day(from)
		}
	}
	for _, c := range rows {
		day := cal.DayOf(c.At)
		stay(was, begun, day)
		was, begun = c.To, day
	}
	stay(was, begun, v.Day)
	return way, nil
}

// stepsOf are the stages of the pipeline of a stage, in their order.
func stepsOf(stages []schema.Stage, now string) []Step {
	pipeline := ""
	for _, st := range stages {
		if st.Name == now {
			pipeline = st.Pipeline
		}
	}
	var list []Step
	for _, st := range stages {
		if st.Pipeline == pipeline || now == "" {
			list = append(list, Step{Stage: st.Name, Status: st.Status, Now: st.Name == now})
		}
	}
	return list
}
