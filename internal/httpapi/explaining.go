package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/internal/answers"
	"uzzel/internal/lookup"
)

// StepBody is one step of the sift.
type StepBody struct {
	What  string `json:"what" doc:"all, whose, period or filter"`
	Words string `json:"words"`
	Left  int64  `json:"left"`
	Out   int64  `json:"out"`
}

// WarningBody is one thing that could mislead.
type WarningBody struct {
	Code  string `json:"code"`
	Text  string `json:"text"`
	Do    string `json:"do" doc:"What can be done; empty for nothing"`
	Brief *Brief `json:"brief,omitempty" doc:"The report once it is done, or the records that the warning is about"`
	Show  bool   `json:"show" doc:"Whether the brief lists records rather than changing the report"`
}

// ExplainedBody is what a report's conditions do, and what could mislead in it.
type ExplainedBody struct {
	Sift     [][]StepBody  `json:"sift" doc:"By part"`
	Warnings []WarningBody `json:"warnings"`
}

// HasBody is what a record has of what a condition asks for.
type HasBody struct {
	Field string `json:"field"`
	Text  string `json:"text" doc:"Empty where it has nothing"`
}

// FailingBody is a condition that takes a record out.
type FailingBody struct {
	Words string    `json:"words"`
	Has   []HasBody `json:"has"`
}

// VerdictBody says whether a record is in a result, and why not.
type VerdictBody struct {
	Name   string        `json:"name"`
	In     bool          `json:"in"`
	Groups [][]string    `json:"groups" doc:"The groups that it is in"`
	Out    []FailingBody `json:"out"`
}

type whyIn struct {
	Body struct {
		Brief Brief  `json:"brief"`
		Part  int    `json:"part,omitempty"`
		ID    string `json:"id"`
	}
}

type droppedIn struct {
	Body struct {
		Brief Brief `json:"brief"`
		Part  int   `json:"part,omitempty"`
		Step  int   `json:"step" doc:"From 0, the first condition"`
		From  int   `json:"from,omitempty"`
		Count int   `json:"count,omitempty"`
	}
}

// NamedRecord is a record that a search found.
type NamedRecord struct {
	Type string `json:"type"`
	ID   string `json:"id"`
	Name string `json:"name"`
	Note string `json:"note,omitempty" doc:"What tells it from others of its name"`
}

func (a *api) explaining(g huma.API) {
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/explain", "explain", "What a brief's conditions do, and what could mislead")),
		func(ctx context.Context, in *briefBody) (*out[ExplainedBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			e, err := view(ctx).Explain(ctx, b)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[ExplainedBody]{explainedBody(e, in.Body.Brief.Reading)}, nil
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/dropped", "dropped", "A page of the records that a condition took out")),
		func(ctx context.Context, in *droppedIn) (*out[ListBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			l, err := view(ctx).Dropped(ctx, b, in.Body.Part, in.Body.Step)
			return a.page(ctx, l, err, in.Body.From, in.Body.Count)
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/why", "why", "Why a record is in a result, or not")),
		func(ctx context.Context, in *whyIn) (*out[VerdictBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			v, err := view(ctx).Why(ctx, b, in.Body.Part, in.Body.ID)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[VerdictBody]{verdictBody(v)}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/find-records", "find-records", "Records by name"),
		func(ctx context.Context, in *struct {
			Type   []string `query:"type" doc:"Record types, with commas between; all where it is left out"`
			Search string   `query:"search" required:"true"`
		}) (*out[[]NamedRecord], error) {
			found, err := lookup.Find(ctx, view(ctx), lookup.Sought{Types: in.Type, Words: in.Search})
			list := []NamedRecord{}
			for _, f := range found {
				list = append(list, NamedRecord(f))
			}
			return &out[[]NamedRecord]{list}, a.fail(ctx, err)
		},
	)
}

// explainedBody is what is said of a report; reading is the report whose conditions hold for it besides, 0 for none.
func explainedBody(e *answers.Explained, reading int64) ExplainedBody {
	body := ExplainedBody{Sift: [][]StepBody{}, Warnings: []WarningBody{}}
	for _, part := range e.Sift {
		steps := []StepBody{}
		for _, s := range part {
			steps = append(steps, StepBody{s.What, s.Words, s.Left, s.Out})
		}
		body.Sift = append(body.Sift, steps)
	}
	for _, w := range e.Warnings {
		b := WarningBody{Code: w.Code, Text: w.Text, Do: w.Do, Show: w.Show}
		if w.Brief != nil {
			shown := public(brief.ForOwner(w.Brief), reading)
			b.Brief = &shown
		}
		body.Warnings = append(body.Warnings, b)
	}
	return body
}

func verdictBody(v *answers.Verdict) VerdictBody {
	body := VerdictBody{Name: v.Name, In: v.In, Groups: append([][]string{}, v.Groups...), Out: []FailingBody{}}
	for _, f := range v.Failing {
		has := []HasBody{}
		for _, o := range f.Has {
			has = append(has, hasBody(o))
		}
		body.Out = append(body.Out, FailingBody{f.Words, has})
	}
	return body
}

func hasBody(o engine.Own) HasBody { return HasBody{o.Path, o.Text} }
