package httpapi

import (
	"context"
	"crypto/rand"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

// What a session holds.
const (
	personKey = "person"
	nameKey   = "name"  // tells the session from others of its person; it opens nothing
	beganKey  = "began" // seconds since 1970-01-01
	agentKey  = "agent" // what the browser called itself
)

type agentHeader struct{}

// begin signs a person in: the request's session is theirs from then on, under another token.
func (a *api) begin(ctx context.Context, person int64) error {
	if err := a.sessions.RenewToken(ctx); err != nil {
		return err
	}
	agent, _ := ctx.Value(agentHeader{}).(string)
	a.sessions.Put(ctx, personKey, person)
	a.sessions.Put(ctx, nameKey, rand.Text())
	a.sessions.Put(ctx, beganKey, time.Now().Unix())
	a.sessions.Put(ctx, agentKey, agent)
	asker(ctx, person)
	return nil
}

// agents keeps what the browser calls itself for the session that a request may begin.
func agents(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		agent := r.UserAgent()
		if len(agent) > 300 {
			agent = agent[:300]
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), agentHeader{}, agent)))
	})
}

// SessionBody is somewhere that one is signed in.
type SessionBody struct {
	Name  string `json:"name"`
	Began int64  `json:"began" doc:"Seconds since 1970-01-01; 0 where it is not known"`
	Agent string `json:"agent" doc:"What the browser called itself"`
	Here  bool   `json:"here" doc:"Whether it is the one that asks"`
}

// eachSession goes over the sessions of a person, in their own contexts.
func (a *api) eachSession(ctx context.Context, person int64, do func(ctx context.Context) error) error {
	return a.sessions.Iterate(ctx, func(ctx context.Context) error {
		if a.sessions.GetInt64(ctx, personKey) != person {
			return nil
		}
		return do(ctx)
	})
}

// oneself are the operations on one's own account.
func (a *api) oneself(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/me/sessions", "my-sessions", "Where one is signed in"),
		func(ctx context.Context, _ *none) (*out[[]SessionBody], error) {
			here, list := a.sessions.GetString(ctx, nameKey), []SessionBody{}
			err := a.eachSession(ctx, who(ctx).ID, func(ctx context.Context) error {
				name := a.sessions.GetString(ctx, nameKey)
				list = append(
					list,
					SessionBody{name, a.sessions.GetInt64(ctx, beganKey), a.sessions.GetString(ctx, agentKey), name == here},
				)
				return nil
			})
			slices.SortFunc(list, func(a, b SessionBody) int { return int(b.Began - a.Began) })
			return &out[[]SessionBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/me/sessions", "end-other-sessions", "Sign out everywhere else"),
		func(ctx context.Context, _ *none) (*struct{}, error) {
			return nil, a.fail(ctx, a.endOthers(ctx))
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPut,
			"/api/me/password",
			"set-password",
			"Choose another password, which signs one out everywhere else",
		),
		func(ctx context.Context, in *struct {
			Body struct {
				Was      string `json:"was" maxLength:"1000"`
				Password string `json:"password" maxLength:"1000"`
			}
		}) (*struct{}, error) {
			err := a.app.People.ChangePassword(ctx, who(ctx), in.Body.Was, in.Body.Password)
			if err == nil {
				err = a.endOthers(ctx)
			}
			return nil, a.fail(ctx, err)
		},
	)
}

// factorPath is where a second factor is set up.
const factorPath = "/api/me/second-factor"

// FactorBody is what an app is set up with to show codes.
type FactorBody struct {
	Secret  string `json:"secret"`
	Picture string `json:"picture" doc:"The same as a picture to be taken, a data URL"`
}

// CodesBody are the codes for when the app is lost, shown once.
type CodesBody struct {
	Codes []string `json:"codes"`
}

// OwnFactorBody is how one signs in.
type OwnFactorBody struct {
	On   bool `json:"on" doc:"Whether with a code besides the password"`
	Left int  `json:"left" doc:"Recovery codes that are left"`
}

type passwordIn struct {
	Body struct {
		Password string `json:"password" maxLength:"1000"`
	}
}

// factor are the operations on the second thing that one signs in with.
func (a *api) factor(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, factorPath, "my-second-factor", "Whether one signs in with a code besides the password"),
		func(ctx context.Context, _ *none) (*out[OwnFactorBody], error) {
			on, left, err := a.app.People.Factor(ctx, who(ctx).ID)
			return &out[OwnFactorBody]{OwnFactorBody{on, left}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, factorPath, "begin-second-factor", "Begin to sign in with a code; it holds once a code is shown"),
		func(ctx context.Context, in *passwordIn) (*out[FactorBody], error) {
			s, err := a.app.People.NewFactor(ctx, who(ctx), in.Body.Password)
			return &out[FactorBody]{FactorBody{s.Text, s.Picture}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, factorPath, "confirm-second-factor", "Show a code, from which on one signs in with it"),
		func(ctx context.Context, in *struct {
			Body struct {
				Code string `json:"code" maxLength:"20"`
			}
		}) (*out[CodesBody], error) {
			codes, err := a.app.People.Confirm(ctx, who(ctx), in.Body.Code)
			if err == nil {
				err = a.endOthers(ctx)
			}
			return &out[CodesBody]{CodesBody{codes}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, factorPath, "drop-second-factor", "Sign in with the password alone again"),
		func(ctx context.Context, in *passwordIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.People.DropOwnFactor(ctx, who(ctx), in.Body.Password))
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/people/{id}/second-factor", "drop-others-factor", "Take away what someone lost"),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.People.DropFactor(ctx, who(ctx), in.ID))
		},
	)
}

// endOthers ends all sessions of who asks but the one that asks.
func (a *api) endOthers(ctx context.Context) error {
	here := a.sessions.GetString(ctx, nameKey)
	return a.endSessions(ctx, who(ctx).ID, here)
}

// endSessions ends the sessions of a person but the one of a name.
func (a *api) endSessions(ctx context.Context, person int64, but string) error {
	return a.eachSession(ctx, person, func(ctx context.Context) error {
		if name := a.sessions.GetString(ctx, nameKey); name != "" && name == but {
			return nil
		}
		// The token is as the store has it: hashed once.
		return a.sessions.Store.Delete(a.sessions.Token(ctx))
	})
}
