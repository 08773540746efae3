package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/diary"
	"uzzel/internal/people"
	"uzzel/internal/records"
)

// out wraps a response body.
type out[T any] struct{ Body T }

// none is a request without anything in it.
type none struct{}

func (a *api) fail(ctx context.Context, err error) error {
	if err == nil {
		return nil
	}
	return a.problem(ctx, err)
}

func op(method, path, id, summary string) huma.Operation {
	return huma.Operation{Method: method, Path: path, OperationID: id, Summary: summary}
}

// lenient is an operation with a brief in its body, which the format itself checks.
func lenient(o huma.Operation) huma.Operation {
	o.SkipValidateBody = true
	return o
}

// Me is who is signed in, and where.
type Me struct {
	ID           int64    `json:"id"`
	Name         string   `json:"name"`
	Team         string   `json:"team"`
	Role         string   `json:"role" enum:"administrator,composer,reader"`
	Rights       []string `json:"rights" doc:"What one may do for others, by the keys of rights"`
	MayCompose   bool     `json:"mayCompose"`
	MayKeep      bool     `json:"mayKeep" doc:"Whether one may keep reports, if only of one's own"`
	Organisation string   `json:"organisation"`
	Today        string   `json:"today" doc:"The day that questions are answered on, 2026-05-14"`
	Demo         bool     `json:"demo"`
	Factor       bool     `json:"factor" doc:"Whether one signs in with a code besides the password"`
	MustFactor   bool     `json:"mustFactor,omitempty" doc:"Whether one is to set that up before anything else"`
	SetUp        string   `json:"setUp,omitempty" enum:"begin,words" doc:"The step of the set-up that waits for this administrator"`
}

// DemoPerson is someone the sign-in page of the demo offers.
type DemoPerson struct {
	Name  string `json:"name"`
	Email string `json:"email"`
	Team  string `json:"team"`
	Role  string `json:"role"`
}

// Welcome is what the sign-in page shows.
type Welcome struct {
	Organisation string       `json:"organisation" doc:"Empty before it is set up"`
	Password     string       `json:"password" doc:"The shared password of the demo, empty elsewhere"`
	People       []DemoPerson `json:"people" doc:"Who can sign in to the demo, nobody elsewhere"`
}

// FieldInfo is a field with the conditions it can have.
type FieldInfo struct {
	schema.Field
	Operators []string `json:"operators"`
	Written   bool     `json:"written,omitempty" doc:"Whether people write it"`
}

// TypeInfo is a record type.
type TypeInfo struct {
	Key     string        `json:"key"`
	Label   string        `json:"label"`
	One     string        `json:"one"`
	Name    string        `json:"name"`
	Owner   string        `json:"owner"`
	Fields  []FieldInfo   `json:"fields"`
	Backs   []schema.Back `json:"backs"`
	Shown   []string      `json:"shown" doc:"The columns of a list that names none"`
	Icon    string        `json:"icon,omitempty" doc:"The drawing that they are shown with; left out for none"`
	Own     bool          `json:"own,omitempty" doc:"Whether it is a record type of one's own"`
	Written bool          `json:"written,omitempty" doc:"Whether its records are written on their pages, and brought in from files"`
	Logged  bool          `json:"logged,omitempty" doc:"Whether what people do can be about its records"`
	Money   string        `json:"money,omitempty" doc:"The path of the currency of its amounts; left out where they are in the organisation's"`
	Rated   []string      `json:"rated,omitempty" doc:"The paths of the dates at whose rate they are converted"`
	Diary   *schema.Diary `json:"diary,omitempty" doc:"Of what people do: which field says what of it"`
}

// PeriodWord is a period that has a word, in words and resolved today.
type PeriodWord struct {
	Word  string `json:"word"`
	Label string `json:"label"`
	PeriodBody
}

// SchemaBody is what reports can be made of.
type SchemaBody struct {
	Figures  string       `json:"figures" doc:"The language whose marks figures are written with"`
	Days     string       `json:"days" enum:"words,dots,slashes,iso" doc:"How days are written"`
	Types    []TypeInfo   `json:"types"`
	Rail     []string     `json:"rail" doc:"The record types that are offered, in their order"`
	Periods  []PeriodWord `json:"periods"`
	Units    []string     `json:"units"`
	Kinds    []string     `json:"chartKinds"`
	Currency string       `json:"currency" doc:"The sign that amounts are written with"`
	Code     string       `json:"code" doc:"The organisation's currency, of ISO 4217"`
	Several  bool         `json:"several" doc:"Whether amounts can be in others"`
	Readers  string       `json:"readers" doc:"The record type of those who read reports"`
}

func (a *api) people(open, signed huma.API) {
	huma.Register(
		open,
		op(http.MethodGet, "/api/welcome", "welcome", "What the sign-in page shows"),
		func(ctx context.Context, _ *none) (*out[Welcome], error) {
			w := Welcome{Password: a.cfg.Demo, People: []DemoPerson{}}
			var err error
			if w.Organisation, err = a.app.Organisation(ctx); err != nil {
				return nil, a.fail(ctx, err)
			}
			if a.cfg.Demo != "" {
				list, err := a.app.People.Accounts(ctx)
				if err != nil {
					return nil, a.fail(ctx, err)
				}
				for _, p := range list {
					w.People = append(w.People, DemoPerson{p.Name, p.Email, p.Team, p.Role})
				}
			}
			return &out[Welcome]{w}, nil
		},
	)
	huma.Register(
		open,
		op(http.MethodDelete, "/api/session", "sign-out", "Sign out"),
		func(ctx context.Context, _ *none) (*struct{}, error) {
			return nil, a.fail(ctx, a.sessions.Destroy(ctx))
		},
	)
	huma.Register(
		signed,
		op(http.MethodGet, "/api/me", "me", "Who is signed in"),
		func(ctx context.Context, _ *none) (*out[Me], error) {
			p := who(ctx)
			name, err := a.app.Organisation(ctx)
			day, step := view(ctx).Day, ""
			on := false
			if err == nil {
				on, _, err = a.app.People.Factor(ctx, p.ID)
			}
			if err == nil && p.Administers() {
				step, err = a.app.SetUp.Step(ctx)
			}
			return &out[Me]{
					Me{
						p.ID,
						p.Name,
						p.Team,
						p.Role,
						p.Rights().Keys(),
						p.MayCompose(),
						view(ctx).MayKeep(),
						name,
						period.FormatDay(day),
						a.cfg.Demo != "",
						on,
						view(ctx).Policy.SecondFactor && !on,
						step,
					},
				}, a.fail(
					ctx,
					err,
				)
		},
	)
	huma.Register(
		signed,
		op(http.MethodGet, "/api/schema", "schema", "Record types, fields and periods"),
		func(ctx context.Context, _ *none) (*out[SchemaBody], error) {
			return &out[SchemaBody]{schemaBody(view(ctx))}, nil
		},
	)
	huma.Register(
		signed,
		lenient(op(http.MethodPost, "/api/seen", "seen",
			"The record types that a report sees in another way than the schema has them")),
		func(ctx context.Context, in *struct {
			Body struct {
				Brief Brief `json:"brief"`
			}
		}) (*out[[]TypeInfo], error) {
			if err := in.Body.Brief.checked(); err != nil {
				return nil, a.fail(ctx, err)
			}
			list := []TypeInfo{}
			for _, t := range brief.TypesSeen(view(ctx).Snap.Schema, &in.Body.Brief.Part) {
				list = append(list, typeInfo(&t))
			}
			return &out[[]TypeInfo]{list}, nil
		},
	)
}

func typeInfo(t *schema.Type) TypeInfo {
	info := TypeInfo{
		Key:    t.Key,
		Label:  t.Label,
		One:    t.One,
		Name:   t.Name,
		Owner:  t.Owner,
		Icon:   t.Icon,
		Own:    t.Added,
		Fields: []FieldInfo{},
		Backs:  append([]schema.Back{}, t.Backs...),
		Shown:  []string{},
	}
	for _, c := range answers.DefaultColumns(t) {
		info.Shown = append(info.Shown, c.Field)
	}
	for _, f := range t.Fields {
		info.Fields = append(info.Fields, FieldInfo{f, brief.Operators(f.Kind), f.Written()})
	}
	info.Diary, info.Money, info.Rated = t.Diary, t.Currency, t.Rated
	return info
}

func schemaBody(v *answers.View) SchemaBody {
	snap := v.Snap
	s := snap.Schema
	body := SchemaBody{
		Figures:  v.Figures.Tag,
		Days:     v.Figures.Form.Way(),
		Currency: brief.Currency(s.Settings.Currency),
		Code:     s.Settings.Currency,
		Several:  s.SeveralCurrencies(),
		Readers:  s.Readers().Key,
		Kinds:    brief.ChartKinds,
		Rail:     s.Rail,
	}
	for _, t := range s.Types {
		info := typeInfo(t)
		info.Written = records.Writes(s, t) && (!t.Rates || v.Who.May(people.Shape))
		info.Logged = diary.Logged(s, t)
		body.Types = append(body.Types, info)
	}
	day := v.Day
	for _, w := range period.Words() {
		p := period.Period{Word: w}
		body.Periods = append(body.Periods, PeriodWord{w, brief.PeriodWords(p), periodBody(snap.Cal.Resolve(p, day), day)})
	}
	for _, u := range period.Units {
		body.Units = append(body.Units, string(u))
	}
	return body
}
