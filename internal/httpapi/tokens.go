package httpapi

import (
	"context"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/httprate"

	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// TokenBody is a token of one's own, without its text.
type TokenBody struct {
	ID      int64    `json:"id"`
	Name    string   `json:"name"`
	Scopes  []string `json:"scopes"`
	Made    int64    `json:"made" doc:"Seconds since 1970-01-01"`
	Expires int64    `json:"expires"`
	Used    int64    `json:"used" doc:"When it was used last, 0 for never"`
}

// NewTokenBody is a token with its text, which is told once.
type NewTokenBody struct {
	TokenBody
	Token string `json:"token"`
}

func tokenBody(t store.Token) TokenBody {
	b := TokenBody{ID: t.ID, Name: t.Name, Scopes: strings.Fields(t.Scopes), Made: t.Made, Expires: t.Expires}
	if t.Used != nil {
		b.Used = *t.Used
	}
	return b
}

// bearerTries is how many requests with tokens an address makes in a minute.
const bearerTries = 600

// scoped are the operations that a token can be for, by method and the beginning of the path; the first that fits holds.
// What is not among them is done by people alone, signed in: tokens make no tokens, and end no sessions.
var scoped = []struct{ method, path, scope string }{
	{"GET", "/api/records/", people.ReadRecords},
	{"GET", "/api/deleted-records/", people.ReadRecords},
	{"POST", "/api/deleted-records/", people.WriteRecords},
	{"POST", "/api/records/", people.WriteRecords},
	{"PATCH", "/api/records/", people.WriteRecords},
	{"DELETE", "/api/records/", people.WriteRecords},
	{"POST", "/api/log", people.WriteRecords},
	{"GET", "/api/find-records", people.ReadRecords},
	{"GET", "/api/people", people.Administer},
	{"POST", "/api/people", people.Administer},
	{"PUT", "/api/people/", people.Administer},
	{"GET", "/api/settings/", people.Administer},
	{"PUT", "/api/settings/", people.Administer},
	{"GET", "/api/me/", ""},
	{"GET", "/api/me", people.ReadReports},
	{"GET", "/api/schema", people.ReadReports},
	{"GET", "/api/find", people.ReadReports},
	{"GET", "/api/folders", people.ReadReports},
	{"GET", "/api/reports", people.ReadReports},
	{"GET", "/api/boards", people.ReadReports},
	{"POST", "/api/answer", people.ReadReports},
	{"POST", "/api/list", people.ReadReports},
	{"POST", "/api/grouped", people.ReadReports},
	{"POST", "/api/behind", people.ReadReports},
	{"POST", "/api/panels", people.ReadReports},
	{"POST", "/api/picture", people.ReadReports},
	{"GET", "/api/kept", people.ReadReports},
	{"POST", "/api/export", people.ReadReports},
	{"POST", "/api/typed", people.ReadReports},
}

// scopeOf is the scope that an operation needs of a token, "" for those that no token can be for.
func scopeOf(method, path string) string {
	for _, s := range scoped {
		if s.method == method && strings.HasPrefix(path, s.path) {
			return s.scope
		}
	}
	return ""
}

// bearer is whom a request with a token acts for.
func (a *api) bearer(ctx huma.Context, token string) (people.Person, error) {
	who, scopes, err := a.app.People.Bearer(ctx.Context(), token)
	if err != nil {
		return who, err
	}
	u := ctx.URL()
	need := scopeOf(ctx.Method(), u.Path)
	if need == "" {
		return who, fault.New(fault.Forbidden, "", "No token is for this; sign in to do it.")
	}
	if !slices.Contains(scopes, need) {
		return who, fault.New(fault.Forbidden, "", "This token is not for %s.", need)
	}
	return who, nil
}

// bearers lets only so many requests with tokens through from an address in a minute.
func (a *api) bearers() func(http.Handler) http.Handler {
	limited := httprate.LimitBy(bearerTries, time.Minute, a.byPeer, httprate.WithLimitHandler(tooMany))
	return func(next http.Handler) http.Handler {
		counted := limited(next)
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.Header.Get("Authorization") != "" {
				counted.ServeHTTP(w, r)
				return
			}
			next.ServeHTTP(w, r)
		})
	}
}

// tokens are the operations on one's own tokens.
func (a *api) tokens(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/me/tokens", "tokens", "One's own tokens"),
		func(ctx context.Context, _ *none) (*out[[]TokenBody], error) {
			tokens, err := a.app.People.Tokens(ctx, who(ctx))
			list := []TokenBody{}
			for _, t := range tokens {
				list = append(list, tokenBody(t))
			}
			return &out[[]TokenBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/me/tokens", "new-token", "A token for a program, shown once"),
		func(ctx context.Context, in *struct {
			Body struct {
				Name   string   `json:"name"`
				Scopes []string `json:"scopes" maxItems:"10" doc:"Of read-reports, read-records, write-records, administer"`
				Days   int      `json:"days" doc:"How long it holds, at most 366"`
			}
		}) (*out[NewTokenBody], error) {
			text, t, err := a.app.People.NewToken(ctx, who(ctx), in.Body.Name, in.Body.Scopes, in.Body.Days)
			return &out[NewTokenBody]{NewTokenBody{tokenBody(t), text}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/me/tokens/{id}", "drop-token", "Take a token away"),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.People.DropToken(ctx, who(ctx), in.ID))
		},
	)
}
