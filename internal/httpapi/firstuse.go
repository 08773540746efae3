package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/people"
	"uzzel/internal/setup"
)

// CompanyBody is what the first step of the set-up asks.
type CompanyBody struct {
	Name        string `json:"name"`
	Timezone    string `json:"timezone" doc:"Of the time zone database: Europe/Lisbon"`
	WeekStart   string `json:"weekStart"`
	FiscalMonth int    `json:"fiscalMonth"`
	Currency    string `json:"currency" doc:"Of ISO 4217: EUR"`
	Figures     string `json:"figures" doc:"The language whose marks figures are written with"`
	Days        string `json:"days" doc:"How a day is written"`
}

// SetUpBody is how far the set-up has come.
type SetUpBody struct {
	Step    string       `json:"step" enum:"organisation,administrator"`
	Company CompanyBody  `json:"company"`
	Figures []FigureWays `json:"figures"`
	Days    []FigureWays `json:"days" doc:"The ways to write a day, with an example"`
}

// KeyBody is whom a one-time address is for.
type KeyBody struct {
	Kind         string `json:"kind" enum:"setup,invite,reset"`
	Name         string `json:"name"`
	Email        string `json:"email"`
	Organisation string `json:"organisation"`
}

// TypeWord is what the trade calls a record type.
type TypeWord struct {
	Type  string `json:"type"`
	Label string `json:"label" doc:"Of several: Deals"`
	One   string `json:"one" doc:"Of one: deal"`
}

type keyIn struct {
	Body struct {
		Key string `json:"key" maxLength:"100"`
	}
}

// firstUse are the operations of who has a one-time key, and those of the set-up that follow.
func (a *api) firstUse(open, signed huma.API) {
	huma.Register(
		open,
		op(http.MethodPost, "/api/setup", "setup", "How far the set-up has come"),
		func(ctx context.Context, in *keyIn) (*out[SetUpBody], error) {
			c, err := a.app.SetUp.Settled(ctx, in.Body.Key)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := SetUpBody{Company: CompanyBody(c)}
			if body.Step, err = a.app.SetUp.Step(ctx); err != nil {
				return nil, a.fail(ctx, err)
			}
			body.Figures, body.Days, err = figureWays(c.Currency, a.app.Today())
			return &out[SetUpBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		open,
		op(http.MethodPost, "/api/setup/organisation", "setup-organisation", "Set the organisation up"),
		func(ctx context.Context, in *struct {
			Body struct {
				Key     string      `json:"key" maxLength:"100"`
				Company CompanyBody `json:"company"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.SetUp.Organise(ctx, in.Body.Key, setup.Company(in.Body.Company)))
		},
	)
	huma.Register(
		open,
		op(http.MethodPost, "/api/setup/administrator", "setup-administrator", "Make the first administrator, and sign in"),
		func(ctx context.Context, in *struct {
			Body struct {
				Key      string `json:"key" maxLength:"100"`
				Name     string `json:"name"`
				Email    string `json:"email"`
				Password string `json:"password" maxLength:"1000"`
			}
		}) (*struct{}, error) {
			b := in.Body
			return a.enter(ctx)(a.app.SetUp.Administer(ctx, b.Key, b.Name, b.Email, b.Password))
		},
	)
	huma.Register(
		signed,
		op(http.MethodPut, "/api/setup/begin", "setup-begin", "Say what to begin with"),
		func(ctx context.Context, in *struct {
			Body struct {
				With string `json:"with" enum:"files,demo,nothing"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.SetUp.BeginWith(ctx, view(ctx), in.Body.With))
		},
	)
	huma.Register(
		signed,
		op(http.MethodPut, "/api/setup/words", "setup-words", "Say what the trade calls its things"),
		func(ctx context.Context, in *struct {
			Body struct {
				Words []TypeWord `json:"words" maxItems:"50"`
			}
		}) (*struct{}, error) {
			var list []setup.Word
			for _, w := range in.Body.Words {
				list = append(list, setup.Word(w))
			}
			return nil, a.fail(ctx, a.app.SetUp.Name(ctx, view(ctx), list))
		},
	)
	huma.Register(
		open,
		op(http.MethodPost, "/api/keys/look", "key", "Whom a one-time address is for"),
		func(ctx context.Context, in *keyIn) (*out[KeyBody], error) {
			k, err := a.app.People.Look(ctx, in.Body.Key)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			name, err := a.app.Organisation(ctx)
			return &out[KeyBody]{KeyBody{k.Kind, k.Name, k.Email, name}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		open,
		op(http.MethodPost, "/api/keys/take", "take-key", "Choose a password with a one-time address, and sign in"),
		func(ctx context.Context, in *struct {
			Body struct {
				Key      string `json:"key" maxLength:"100"`
				Password string `json:"password" maxLength:"1000"`
			}
		}) (*struct{}, error) {
			return a.enter(ctx)(a.app.People.Take(ctx, in.Body.Key, in.Body.Password))
		},
	)
}

// enter signs someone in who has just shown who they are.
func (a *api) enter(ctx context.Context) func(who people.Person, err error) (*struct{}, error) {
	return func(who people.Person, err error) (*struct{}, error) {
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		// Who signs in with a code shows that too: an address that was mailed is no second thing.
		if on, _, err := a.app.People.Factor(ctx, who.ID); err != nil || on {
			return nil, a.fail(ctx, err)
		}
		return nil, a.fail(ctx, a.begin(ctx, who.ID))
	}
}
