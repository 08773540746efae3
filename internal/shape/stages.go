package shape

import (
	"context"
	"maps"
	"slices"
	"strings"

	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/store"
)

// Stage is a stage with what it was called before.
type Stage struct {
	Choice
	Pipeline   string
	Status     string
	Likelihood float64
}

// SetStages sets the stages of a type in their order, with pipeline, status and likelihood. A record type of one's own has
// stages from its first ones on, with the fields that come of them, and none any more where all of them are taken away.
func (s *Shape) SetStages(ctx context.Context, v *answers.View, typ string, list []Stage, version int) error {
	t, err := shaped(v, typ)
	if err != nil {
		return err
	}
	f := t.Staged()
	switch {
	case f == nil && !t.Added:
		return fault.New(fault.Invalid, "", "%s come with the program, without stages.", t.Label)
	case len(list) == 0 && (f == nil || !t.Added):
		return fault.New(fault.Invalid, "/stages", "There is at least one stage.")
	}
	var choices []Choice
	for _, st := range list {
		if st.Likelihood < 0 || st.Likelihood > 100 {
			return fault.New(fault.Invalid, "/stages", "A likelihood is from 0 to 100; that of “%s” is %g.",
				st.Name, st.Likelihood)
		}
		choices = append(choices, st.Choice)
	}
	uses := map[string]int{}
	if f != nil {
		if uses, err = usesOf(v, t, f); err != nil {
			return err
		}
	}
	to, names, err := renames(choices, uses)
	if err != nil {
		return err
	}
	stages := make([]schema.Stage, len(names))
	for i, name := range names {
		st := list[slices.IndexFunc(list, func(st Stage) bool { return naming.Tidy(st.Name) == name })]
		stages[i] = schema.Stage{
			Name: name, Pipeline: strings.TrimSpace(st.Pipeline), Status: st.Status, Likelihood: st.Likelihood,
		}
	}
	if len(stages) == 0 {
		bare := v.Snap.Schema.Settings
		putStages(&bare, t, nil)
		used, err := usedBy(ctx, s.store, v, bare)
		if err != nil {
			return err
		}
		if err := unused("Stages of "+strings.ToLower(t.Label), used); err != nil {
			return err
		}
	}
	return s.reshape(ctx, v, version, func(w *store.Writer, set *schema.Settings) error {
		putStages(set, t, stages)
		key := schema.StageKey
		if f != nil {
			key = f.Key
			if err := rename(w, v, typ, f.Key, to); err != nil {
				return err
			}
		}
		return s.colour(ctx, w, typ, key, choices)
	})
}

// putStages sets the stages of a type in settings that are shared with nobody else's.
func putStages(set *schema.Settings, t *schema.Type, stages []schema.Stage) {
	if !t.Added {
		set.Stages = stages
		return
	}
	set.Types = maps.Clone(set.Types)
	a := set.Types[t.Key]
	a.Stages = stages
	set.Types[t.Key] = a
	if f := t.Staged(); f != nil && len(stages) == 0 {
		set.Limits = maps.Clone(set.Limits)
		maps.DeleteFunc(set.Limits, func(at string, _ schema.Limit) bool {
			typ, key, _ := strings.Cut(at, ".")
			return typ == t.Key && t.Field(key) != nil && !t.Field(key).Added
		})
	}
}
