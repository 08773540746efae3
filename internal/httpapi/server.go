// Package httpapi serves the application over HTTP: a JSON API described by OpenAPI 3.1 and the embedded front end. It
// alone knows sessions and status codes.
package httpapi

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"path"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/go-chi/httprate"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/fault"
	"uzzel/internal/memo"
	"uzzel/internal/people"
	"uzzel/internal/progress"
	"uzzel/internal/store"
)

// Config is what a server needs besides the application.
type Config struct {
	Log      *slog.Logger
	Sessions scs.Store // nil keeps sessions in memory
	Front    fs.FS     // the built front end, nil for the API alone
	Demo     string    // the shared demo password; empty outside the demo
	Secure   bool      // cookies over HTTPS only, which browsers are told to keep to
	// Proxy is the network of the proxy that requests come through, whose word for where they come from is taken; nil for
	// none.
	Proxy *net.IPNet
	// Served is told of each request by its route; it may be nil.
	Served func(route string, status int, took time.Duration)
	// Heartbeat is how often an open stream of events is looked at; 20 s where it is 0.
	Heartbeat time.Duration
}

func (c *Config) heartbeat() time.Duration { return cmp.Or(c.Heartbeat, 20*time.Second) }

// Limits of a request.
const (
	maxBody     = 2 << 20
	timeLimit   = answers.QuestionTime + 5*time.Second
	signInTries = 10 // a minute, from one address
)

type api struct {
	app      *app.App
	sessions *scs.SessionManager
	cfg      Config
	works    progress.Works
}

// New makes the handler of the whole application.
func New(d *app.App, cfg Config) (http.Handler, error) {
	if cfg.Log == nil {
		cfg.Log = slog.New(slog.DiscardHandler)
	}
	sessions := scs.New()
	sessions.Lifetime = 30 * 24 * time.Hour
	sessions.HashTokenInStore = true
	sessions.Cookie.Name = "uzzel"
	sessions.Cookie.HttpOnly, sessions.Cookie.Secure, sessions.Cookie.SameSite = true, cfg.Secure, http.SameSiteLaxMode
	if cfg.Sessions != nil {
		sessions.Store = cfg.Sessions
	}
	a := &api{app: d, sessions: sessions, cfg: cfg}
	r := chi.NewRouter()
	r.Use(middleware.RequestID, a.log, a.recovered, a.secure)
	r.Get("/healthz", func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("ok\n")) })
	r.Get("/readyz", a.ready)
	r.Group(func(r chi.Router) {
		r.Use(
			sized,
			middleware.Timeout(timeLimit),
			middleware.Compress(5, "application/json", "application/problem+json", "text/csv", lineType),
		)
		r.Use(crossOrigin().Handler, sessions.LoadAndSave, agents)
		r.Use(a.tries(), a.bearers()) // of those who show who they are
		r.Post("/api/session", a.signIn)
		r.Get("/api/brief.schema.json", briefSchema)
		a.operations(r)
	})
	r.Group(func(r chi.Router) {
		r.Use(
			middleware.Timeout(timeLimit),
			httprate.LimitBy(bearerTries, time.Minute, a.byPeer, httprate.WithLimitHandler(tooMany)),
		)
		r.Get(feeds+"{token}.ics", a.feed)
	})
	r.Group(func(r chi.Router) { // stays open, so that neither time limit nor compression apply
		r.Use(sessions.LoadAndSave)
		r.Get("/api/events", a.events)
	})
	if cfg.Front != nil {
		r.NotFound(front(cfg.Front))
	}
	return r, nil
}

// byPeer is the address that a request comes from: that of the connection, or, where it is the proxy's that was set,
// the last one that the proxy names. Addresses of one household or server, which has 2⁶⁴ of them, are one.
func (a *api) byPeer(r *http.Request) (string, error) {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		return "", err
	}
	ip := net.ParseIP(host)
	if a.cfg.Proxy != nil && a.cfg.Proxy.Contains(ip) {
		list := strings.Split(strings.Join(r.Header.Values("X-Forwarded-For"), ","), ",")
		if named := net.ParseIP(strings.TrimSpace(list[len(list)-1])); named != nil {
			ip = named
		}
	}
	if ip != nil && ip.To4() == nil {
		ip = ip.Mask(net.CIDRMask(64, 128))
	}
	return ip.String(), nil
}

// ready says whether questions can be answered and work be kept, and otherwise in words why not.
func (a *api) ready(w http.ResponseWriter, r *http.Request) {
	ctx, stop := context.WithTimeout(r.Context(), 5*time.Second)
	defer stop()
	if err := a.app.Ready(ctx); err != nil {
		p := a.problem(ctx, err)
		p.Status = http.StatusServiceUnavailable
		writeProblem(w, p)
		return
	}
	_, _ = w.Write([]byte("ready\n"))
}

// recovered has a panic written down with its request's id, and says what to do.
func (a *api) recovered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			p := recover()
			if p == nil {
				return
			}
			if err, ok := p.(error); ok && errors.Is(err, http.ErrAbortHandler) {
				panic(p)
			}
			stack := debug.Stack()
			if passed, ok := p.(*memo.Panicked); ok {
				p, stack = passed.Value, passed.Stack
			}
			id := middleware.GetReqID(r.Context())
			a.cfg.Log.ErrorContext(
				r.Context(),
				"panic",
				"id",
				id,
				"method",
				r.Method,
				"path",
				r.URL.Path,
				"panic",
				fmt.Sprint(p),
				"stack",
				string(stack),
			)
			writeProblem(w, &ErrorBody{
				Status: http.StatusInternalServerError,
				Title:  "Something went wrong",
				Detail: "Something went wrong here, and it was written down. Nothing that was saved is lost. Try it once more; if it happens again, tell an administrator this number: " + id + ".",
			})
		}()
		next.ServeHTTP(w, r)
	})
}

// keyPaths are the operations that take a password or a one-time key, which are throttled by address.
var keyPaths = []string{
	"/api/session",
	"/api/setup",
	"/api/setup/organisation",
	"/api/setup/administrator",
	"/api/keys/look",
	"/api/keys/take",
	"/api/me/password",
	"/api/leave",
}

// tries lets only so many passwords and one-time keys be tried from an address in a minute.
func (a *api) tries() func(http.Handler) http.Handler {
	limited := httprate.LimitBy(signInTries, time.Minute, a.byPeer, httprate.WithLimitHandler(tooMany))
	return func(next http.Handler) http.Handler {
		counted := limited(next)
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.Method != http.MethodGet && r.Method != http.MethodDelete && slices.Contains(keyPaths, r.URL.Path) {
				counted.ServeHTTP(w, r)
				return
			}
			next.ServeHTTP(w, r)
		})
	}
}

func tooMany(w http.ResponseWriter, _ *http.Request) {
	writeProblem(
		w,
		&ErrorBody{
			Status: http.StatusTooManyRequests,
			Title:  "Too many tries",
			Detail: "Too many sign-in attempts. Wait a minute and try again.",
		},
	)
}

func crossOrigin() *http.CrossOriginProtection {
	c := http.NewCrossOriginProtection()
	c.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeProblem(
			w,
			&ErrorBody{Status: http.StatusForbidden, Title: "Refused", Detail: "The request comes from another site."},
		)
	}))
	return c
}

func (a *api) secure(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store") // what one person is answered is no other's
		}
		if a.cfg.Secure {
			h.Set("Strict-Transport-Security", "max-age=31536000; includeSubDomains")
		}
		h.Set(
			"Content-Security-Policy",
			"default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
		)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		next.ServeHTTP(w, r)
	})
}

func (a *api) log(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		start := time.Now()
		rec := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		rec.Header().Set("X-Request-Id", middleware.GetReqID(r.Context()))
		var person int64
		next.ServeHTTP(rec, r.WithContext(context.WithValue(r.Context(), askerKey{}, &person)))
		if a.cfg.Served != nil {
			route := chi.RouteContext(r.Context())
			pattern := ""
			if route != nil {
				pattern = route.RoutePattern()
			}
			a.cfg.Served(r.Method+" "+cmp.Or(pattern, "other"), rec.Status(), time.Since(start))
		}
		a.cfg.Log.Info(
			"request",
			"id",
			middleware.GetReqID(r.Context()),
			"method",
			r.Method,
			"path",
			logged(r.URL.Path),
			"person",
			person,
			"status",
			rec.Status(),
			"bytes",
			rec.BytesWritten(),
			"ms",
			time.Since(start).Milliseconds(),
		)
	})
}

// feeds is where calendars ask, with a token that is a part of the path.
const feeds = "/feeds/"

// logged is a path as it is written down: without a token.
func logged(path string) string {
	if strings.HasPrefix(path, feeds) {
		return feeds + "…"
	}
	return path
}

// front serves the built front end; paths that are no file are its own routes.
func front(files fs.FS) http.HandlerFunc {
	server := http.FileServerFS(files)
	return func(w http.ResponseWriter, r *http.Request) {
		name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
		info, err := fs.Stat(files, name)
		there := err == nil && !info.IsDir()
		asset := strings.HasPrefix(name, "assets/")
		// A page of an earlier version may ask for a file that is no more; a page in its place would not run.
		if strings.HasPrefix(r.URL.Path, "/api/") || (asset && !there) ||
			(r.Method != http.MethodGet && r.Method != http.MethodHead) {
			writeProblem(
				w,
				&ErrorBody{Status: http.StatusNotFound, Title: "Not found", Detail: "There is nothing at this address."},
			)
			return
		}
		if !there {
			r.URL.Path = "/"
			w.Header().Set("Cache-Control", "no-cache")
		} else if asset {
			w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		}
		server.ServeHTTP(w, r)
	}
}

type signInBody struct {
	Email    string `json:"email"`
	Password string `json:"password"`
	Code     string `json:"code"` // of the second factor, where there is one
}

func (a *api) signIn(w http.ResponseWriter, r *http.Request) {
	var body signInBody
	if err := json.NewDecoder(r.Body).Decode(&body); err != nil || len(body.Password)+len(body.Code) > 1000 {
		writeProblem(
			w,
			&ErrorBody{Status: http.StatusBadRequest, Title: "Not understood", Detail: "Send an e-mail address and a password."},
		)
		return
	}
	who, err := a.app.People.SignIn(r.Context(), body.Email, body.Password, body.Code)
	if err == nil {
		err = a.begin(r.Context(), who.ID)
	}
	if err != nil {
		writeProblem(w, a.problem(r.Context(), err))
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

type viewKey struct{}

// askerKey holds where the log of a request learns who asked.
type askerKey struct{}

func asker(ctx context.Context, person int64) {
	if p, ok := ctx.Value(askerKey{}).(*int64); ok {
		*p = person
	}
}

// signedIn lets only requests of signed-in people through, and says who they are.
func (a *api) signedIn(ctx huma.Context, next func(huma.Context)) {
	var who people.Person
	var err error
	if token, ok := strings.CutPrefix(ctx.Header("Authorization"), "Bearer "); ok {
		who, err = a.bearer(ctx, strings.TrimSpace(token))
	} else {
		who, err = a.app.People.Who(ctx.Context(), a.sessions.GetInt64(ctx.Context(), personKey))
	}
	if err != nil {
		a.refuse(ctx, err)
		return
	}
	asker(ctx.Context(), who.ID)
	v := a.app.View(who)
	if err := a.factored(ctx, v); err != nil {
		a.refuse(ctx, err)
		return
	}
	if other, err := a.as(ctx, who); err != nil {
		a.refuse(ctx, err)
		return
	} else if other.ID != who.ID {
		v = a.app.View(other)
	}
	next(huma.WithValue(huma.WithContext(ctx, store.By(ctx.Context(), who.ID)), viewKey{}, v))
}

// factored refuses all but what one sets a second factor up with, where everyone is to have one and who asks has none.
func (a *api) factored(ctx huma.Context, v *answers.View) error {
	if path := ctx.URL().Path; !v.Policy.SecondFactor || path == "/api/me" || path == factorPath {
		return nil
	}
	on, _, err := a.app.People.Factor(ctx.Context(), v.Who.ID)
	if err == nil && !on {
		err = fault.New(fault.Forbidden, "", "Set up first how you sign in: with a code besides your password.")
	}
	return err
}

// refuse answers a request with why it is refused.
func (a *api) refuse(ctx huma.Context, err error) {
	p := a.problem(ctx.Context(), err)
	ctx.SetHeader("Content-Type", "application/problem+json")
	ctx.SetStatus(p.Status)
	_ = json.NewEncoder(ctx.BodyWriter()).Encode(p)
}

// view is what the person who asks sees: taken once for a request, so that all of it is answered from the same records.
func view(ctx context.Context) *answers.View {
	v, _ := ctx.Value(viewKey{}).(*answers.View)
	return v
}

// who asks.
func who(ctx context.Context) people.Person { return view(ctx).Who }

// briefSchema serves the format of a report as a JSON Schema.
func briefSchema(w http.ResponseWriter, _ *http.Request) {
	text, err := brief.JSONSchema()
	if err != nil {
		writeProblem(
			w,
			&ErrorBody{Status: http.StatusInternalServerError, Title: "Something went wrong", Detail: err.Error()},
		)
		return
	}
	w.Header().Set("Content-Type", "application/schema+json")
	_, _ = w.Write(text)
}

// Spec is the OpenAPI document of the API, as JSON.
func Spec() ([]byte, error) {
	a := &api{}
	doc := a.operations(chi.NewRouter())
	text, err := json.MarshalIndent(doc.OpenAPI(), "", " ")
	return append(text, '\n'), err
}

func (a *api) operations(r chi.Router) huma.API {
	huma.NewError, huma.DefaultArrayNullable = newProblem, false
	cfg := huma.DefaultConfig("Uzzel", "1")
	cfg.DocsPath, cfg.SchemasPath, cfg.OpenAPIPath = "", "", "/api/openapi"
	cfg.CreateHooks = nil
	registerBrief(cfg.Components.Schemas)
	doc := humachi.New(r, cfg)
	open := huma.NewGroup(doc)
	signed := huma.NewGroup(doc)
	signed.UseMiddleware(a.signedIn)
	a.people(open, signed)
	a.firstUse(open, signed)
	a.leaving(open)
	a.oneself(signed)
	a.factor(signed)
	a.tokens(signed)
	a.underWay(signed)
	a.roster(signed)
	a.rights(signed)
	a.asking(signed)
	a.taking(signed)
	a.styles(signed)
	a.keptStyles(signed)
	a.wholes(signed)
	a.typing(signed)
	a.beginning(signed)
	a.keeping(signed)
	a.boards(signed)
	a.records(signed)
	a.writing(signed)
	a.lists(signed)
	a.diary(signed)
	a.twins(signed)
	a.bringIn(signed)
	a.shape(signed)
	a.types(signed)
	a.limits(signed)
	a.explaining(signed)
	a.moves(signed)
	a.passages(signed)
	a.held(signed)
	a.keptResults(signed)
	a.deliveries(signed)
	a.pictures(signed)
	a.stood(signed)
	a.finding(signed)
	a.history(signed)
	a.settings(signed)
	a.targets(signed)
	a.homes(signed)
	a.policy(signed)
	a.changes(signed)
	a.exceptions(signed)
	a.mail(signed)
	a.cards(signed)
	a.words(signed)
	a.figures(signed)
	a.ownFigures(signed)
	a.shares(signed)
	return doc
}

var errTimeout = errors.New("the report took longer than a minute; narrow it, or group by fewer fields")
