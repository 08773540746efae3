package httpapi

import (
	"cmp"
	"context"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/figures"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/people"
)

// SeesBody is which records of a type people may see.
type SeesBody struct {
	Type  string `json:"type"`
	Label string `json:"label"`
	How   string `json:"how" doc:"team, own, or empty for everyone's"`
	// Version is that of the setting.
	Version int `json:"version"`
}

func (a *api) settings(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/settings/sees", "sees", "Which records people may see"),
		func(ctx context.Context, _ *none) (*out[[]SeesBody], error) {
			versions, err := a.app.Admin.SeesVersions(ctx)
			list, sees := []SeesBody{}, view(ctx).EveryonesSight().All
			for _, t := range view(ctx).Snap.Schema.Types {
				if t.Owner != "" {
					list = append(list, SeesBody{t.Key, t.Label, string(sees[t.Key]), versions[t.Key]})
				}
			}
			return &out[[]SeesBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/settings/sees/{type}", "set-sees", "Say which records of a type people may see"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body struct {
				How     string `json:"how"`
				Version int    `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Admin.SetSees(ctx, view(ctx), in.Type, engine.Sees(in.Body.How), in.Body.Version))
		},
	)
}

// ExceptionBody is a person or team that sees other records of a type than people do in general.
type ExceptionBody struct {
	Type    string `json:"type"`
	Kind    string `json:"kind" enum:"person,team"`
	Subject int64  `json:"subject" doc:"The number of the person or team"`
	How     string `json:"how" doc:"team, own, or empty for everyone's"`
}

// ExceptionsBody are those that there are.
type ExceptionsBody struct {
	Exceptions []ExceptionBody `json:"exceptions" maxItems:"500"`
	Version    int             `json:"version,omitempty" doc:"The one that was read"`
}

// exceptions are the operations on who sees other records than people do in general.
func (a *api) exceptions(g huma.API) {
	huma.Register(
		g,
		op(
			http.MethodGet,
			"/api/settings/exceptions",
			"sight-exceptions",
			"Who sees other records than people do in general",
		),
		func(ctx context.Context, _ *none) (*out[ExceptionsBody], error) {
			if !who(ctx).Administers() {
				return nil, a.fail(ctx, fault.New(fault.Forbidden, "", "Only administrators see this."))
			}
			s := view(ctx).EveryonesSight()
			body := ExceptionsBody{[]ExceptionBody{}, s.Version}
			for _, e := range s.Exceptions {
				if view(ctx).Snap.Schema.Type(e.Type) == nil {
					continue // taken away since
				}
				body.Exceptions = append(body.Exceptions, ExceptionBody{e.Type, e.Kind, e.Subject, string(e.How)})
			}
			return &out[ExceptionsBody]{body}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/settings/exceptions", "set-sight-exceptions", "Say who sees other records"),
		func(ctx context.Context, in *struct{ Body ExceptionsBody }) (*struct{}, error) {
			list := []answers.Exception{}
			for _, e := range in.Body.Exceptions {
				list = append(list, answers.Exception{Type: e.Type, Kind: e.Kind, Subject: e.Subject, How: engine.Sees(e.How)})
			}
			return nil, a.fail(ctx, a.app.Admin.SetExceptions(ctx, view(ctx), list, in.Body.Version))
		},
	)
}

// HomeBody is the dashboard that a team begins on.
type HomeBody struct {
	Team  int64 `json:"team" doc:"0 for everyone whose team has none"`
	Board int64 `json:"board"`
}

// HomesBody is the dashboards that teams begin on.
type HomesBody struct {
	Homes   []HomeBody `json:"homes"`
	Version int        `json:"version"`
}

func (a *api) homes(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/home", "home", "The dashboard that one begins on; 0 for none"),
		func(ctx context.Context, _ *none) (*out[HomeBody], error) {
			board, err := a.app.Admin.Home(ctx, view(ctx))
			return &out[HomeBody]{HomeBody{who(ctx).TeamID, board}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/settings/homes", "homes", "The dashboards that teams begin on"),
		func(ctx context.Context, _ *none) (*out[HomesBody], error) {
			by, version, err := a.app.Admin.Homes(ctx)
			list := []HomeBody{}
			for team, board := range by {
				list = append(list, HomeBody{team, board})
			}
			slices.SortFunc(list, func(a, b HomeBody) int { return cmp.Compare(a.Team, b.Team) })
			return &out[HomesBody]{HomesBody{list, version}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/settings/homes/{team}", "set-home", "Set the dashboard that a team begins on"),
		func(ctx context.Context, in *struct {
			Team int64 `path:"team"`
			Body struct {
				Board   int64 `json:"board" doc:"0 for none"`
				Version int   `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Admin.SetHome(ctx, view(ctx), in.Team, in.Body.Board, in.Body.Version))
		},
	)
}

// PolicyBody is what people of a role may do that the organisation decides itself.
type PolicyBody struct {
	ReadersKeep  bool `json:"readersKeep" doc:"Whether readers may keep reports of their own"`
	SecondFactor bool `json:"secondFactor,omitempty" doc:"Whether everyone signs in with a code besides the password"`
	Version      int  `json:"version,omitempty" doc:"The one that was read"`
}

func (a *api) policy(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/settings/people", "people-policy", "What readers may do"),
		func(ctx context.Context, _ *none) (*out[PolicyBody], error) {
			p := view(ctx).Policy
			return &out[PolicyBody]{PolicyBody{p.ReadersKeep, p.SecondFactor, p.Version}}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/settings/people", "set-people-policy", "Say what readers may do"),
		func(ctx context.Context, in *struct{ Body PolicyBody }) (*struct{}, error) {
			return nil, a.fail(
				ctx,
				a.app.Admin.SetPolicy(
					ctx,
					view(ctx),
					people.Policy{ReadersKeep: in.Body.ReadersKeep, SecondFactor: in.Body.SecondFactor},
					in.Body.Version,
				),
			)
		},
	)
}

// WordBody is a word of the organisation's own for some of the records of a type.
type WordBody struct {
	Name  string `json:"name"`
	Brief Brief  `json:"brief" doc:"The records that it means"`
	Text  string `json:"text,omitempty" doc:"The same as a sentence"`
}

// WordsBody is the organisation's own words.
type WordsBody struct {
	Words   []WordBody `json:"words"`
	Version int        `json:"version,omitempty" doc:"The one that was read"`
}

func (a *api) words(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/settings/words", "words", "The organisation's own words for its records"),
		func(ctx context.Context, _ *none) (*out[WordsBody], error) {
			v := view(ctx)
			body := WordsBody{[]WordBody{}, v.Words.Version}
			for _, w := range v.Words.List {
				b := public(brief.ForOwner(w.Brief), 0)
				body.Words = append(body.Words, WordBody{w.Name, b, say(v, b)})
			}
			return &out[WordsBody]{body}, nil
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPut, "/api/settings/words", "set-words", "Set the organisation's own words")),
		func(ctx context.Context, in *struct{ Body WordsBody }) (*struct{}, error) {
			list := []answers.Word{}
			for _, w := range in.Body.Words {
				if err := w.Brief.checked(); err != nil {
					return nil, a.fail(ctx, err)
				}
				list = append(list, answers.Word{Name: w.Name, Brief: w.Brief.Brief})
			}
			return nil, a.fail(ctx, a.app.Admin.SetWords(ctx, view(ctx), list, in.Body.Version))
		},
	)
}

// FiguresBody is how figures are written for everyone.
type FiguresBody struct {
	Tag     string       `json:"tag" doc:"The language whose marks are used"`
	Days    string       `json:"days,omitempty" doc:"How a day is written; the first of the ways where it is empty"`
	Version int          `json:"version,omitempty" doc:"The one that was read"`
	Own     string       `json:"own,omitempty" doc:"The language that the person has chosen; empty for that of everyone"`
	OwnDays string       `json:"ownDays,omitempty"`
	Ways    []FigureWays `json:"ways,omitempty"`
	DayWays []FigureWays `json:"dayWays,omitempty" doc:"The ways to write a day"`
}

// FigureWays is one way to write figures, with an example.
type FigureWays struct {
	Tag     string `json:"tag" doc:"The language, or the way to write a day"`
	Example string `json:"example"`
}

func (a *api) figures(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/settings/figures", "figures", "How figures are written"),
		func(ctx context.Context, _ *none) (*out[FiguresBody], error) {
			v := view(ctx)
			all, own := a.app.Admin.Everyones(v)
			body := FiguresBody{Tag: all.Tag, Days: all.Form.Way(), Version: all.Version}
			if own != nil {
				body.Own, body.OwnDays = own.Tag, own.Form.Way()
			}
			var err error
			body.Ways, body.DayWays, err = figureWays(v.Snap.Schema.Settings.Currency, v.Day)
			return &out[FiguresBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/settings/figures", "set-figures", "Say how figures are written"),
		func(ctx context.Context, in *struct{ Body FiguresBody }) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Admin.SetFigures(ctx, view(ctx), in.Body.Tag, in.Body.Days, in.Body.Version))
		},
	)
}

func (a *api) ownFigures(g huma.API) {
	huma.Register(
		g,
		op(http.MethodPut, "/api/me/figures", "set-own-figures", "Say how figures are written for oneself"),
		func(ctx context.Context, in *struct {
			Body struct {
				Tag  string `json:"tag" doc:"Empty for that of everyone"`
				Days string `json:"days,omitempty"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Admin.SetOwnFigures(ctx, view(ctx), in.Body.Tag, in.Body.Days))
		},
	)
}

// figureWays are the ways to write figures, as amounts of a currency, and a day.
func figureWays(currency string, day int32) (ways, days []FigureWays, err error) {
	for _, tag := range figures.Tags {
		f, err := figures.Of(tag)
		if err != nil {
			return nil, nil, err
		}
		ways = append(ways, FigureWays{tag, f.Money(brief.Currency(currency), f.Number("1234567.50"))})
	}
	for _, way := range figures.Days {
		f, err := figures.Form{}.WithDays(way)
		if err != nil {
			return nil, nil, err
		}
		days = append(days, FigureWays{way, f.Day(day)})
	}
	return ways, days, nil
}
