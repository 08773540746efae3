package httpapi

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/internal/desk"
)

// SeesBody is which records of a type people may see.
type SeesBody struct {
	Type  string `json:"type"`
	Label string `json:"label"`
	How   string `json:"how" doc:"team, own, or empty for everyone's"`
}

func (a *api) settings(g huma.API) {
	huma.Register(g, op(http.MethodGet, "/api/settings/sees", "sees", "Which records people may see"), func(_ context.Context, _ *none) (*out[[]SeesBody], error) {
		list, sees := []SeesBody{}, a.desk.Sees()
		for _, t := range a.desk.Snapshot().Schema.Types {
			if t.Owner != "" {
				list = append(list, SeesBody{t.Key, t.Label, string(sees[t.Key])})
			}
		}
		return &out[[]SeesBody]{list}, nil
	})
	huma.Register(g, op(http.MethodPut, "/api/settings/sees/{type}", "set-sees", "Say which records of a type people may see"), func(ctx context.Context, in *struct {
		Type string `path:"type"`
		Body struct {
			How string `json:"how"`
		}
	}) (*struct{}, error) {
		return nil, a.fail(ctx, a.desk.SetSees(ctx, who(ctx), in.Type, engine.Sees(in.Body.How)))
	})
}

// HomeBody is the dashboard that a team begins on.
type HomeBody struct {
	Team  int64 `json:"team" doc:"0 for everyone whose team has none"`
	Board int64 `json:"board"`
}

func (a *api) homes(g huma.API) {
	huma.Register(g, op(http.MethodGet, "/api/home", "home", "The dashboard that one begins on; 0 for none"), func(ctx context.Context, _ *none) (*out[HomeBody], error) {
		board, err := a.desk.Home(ctx, who(ctx))
		return &out[HomeBody]{HomeBody{who(ctx).TeamID, board}}, a.fail(ctx, err)
	})
	huma.Register(g, op(http.MethodGet, "/api/settings/homes", "homes", "The dashboards that teams begin on"), func(ctx context.Context, _ *none) (*out[[]HomeBody], error) {
		by, err := a.desk.Homes(ctx)
		list := []HomeBody{}
		for team, board := range by {
			list = append(list, HomeBody{team, board})
		}
		slices.SortFunc(list, func(a, b HomeBody) int { return cmp.Compare(a.Team, b.Team) })
		return &out[[]HomeBody]{list}, a.fail(ctx, err)
	})
	huma.Register(g, op(http.MethodPut, "/api/settings/homes/{team}", "set-home", "Set the dashboard that a team begins on"), func(ctx context.Context, in *struct {
		Team int64 `path:"team"`
		Body struct {
			Board int64 `json:"board" doc:"0 for none"`
		}
	}) (*struct{}, error) {
		return nil, a.fail(ctx, a.desk.SetHome(ctx, who(ctx), in.Team, in.Body.Board))
	})
}

// StyleBody is the house style, with what is wrong with its palette for some readers.
type StyleBody struct {
	Style    chart.Style     `json:"style"`
	Palette  []string        `json:"palette" doc:"The palette in force: the style's, or our own"`
	Findings []chart.Finding `json:"findings"`
}

func (a *api) styles(g huma.API) {
	huma.Register(g, op(http.MethodGet, "/api/settings/style", "style", "The house style"), func(_ context.Context, _ *none) (*out[StyleBody], error) {
		s := a.desk.Style()
		body := StyleBody{Style: s, Palette: s.Palette}
		if len(body.Palette) == 0 {
			body.Palette = chart.Palette()
		}
		body.Findings = chart.CheckPalette(body.Palette)
		return &out[StyleBody]{body}, nil
	})
	huma.Register(g, lenient(op(http.MethodPut, "/api/settings/style", "set-style", "Set the house style")), func(ctx context.Context, in *struct{ Body chart.Style }) (*struct{}, error) {
		return nil, a.fail(ctx, a.desk.SetStyle(ctx, who(ctx), in.Body))
	})
	huma.Register(g, op(http.MethodPost, "/api/settings/palette", "check-palette", "What is wrong with a palette for some readers"), func(_ context.Context, in *struct {
		Body struct {
			Palette []string `json:"palette" maxItems:"12"`
		}
	}) (*out[[]chart.Finding], error) {
		return &out[[]chart.Finding]{chart.CheckPalette(in.Body.Palette)}, nil
	})
}

// KeptStyleBody is a style that charts ask for by its key.
type KeptStyleBody struct {
	Key       string      `json:"key"`
	Name      string      `json:"name"`
	Owner     string      `json:"owner"`
	MayChange bool        `json:"mayChange"`
	Style     chart.Style `json:"style"`
}

type keptStyleIn struct {
	Name  string      `json:"name"`
	Style chart.Style `json:"style"`
}

func (a *api) keptStyles(g huma.API) {
	body := func(ctx context.Context, k desk.KeptStyle) KeptStyleBody {
		return KeptStyleBody{k.Key, k.Name, a.desk.StyleOwner(k), k.MayChangeStyle(who(ctx)), k.Style}
	}
	huma.Register(g, op(http.MethodGet, "/api/styles", "styles", "The styles that are kept by name"), func(ctx context.Context, _ *none) (*out[[]KeptStyleBody], error) {
		list := []KeptStyleBody{}
		for _, k := range a.desk.Styles() {
			list = append(list, body(ctx, k))
		}
		return &out[[]KeptStyleBody]{list}, nil
	})
	huma.Register(g, lenient(op(http.MethodPost, "/api/styles", "keep-style", "Keep a style by name")), func(ctx context.Context, in *struct{ Body keptStyleIn }) (*out[KeptStyleBody], error) {
		k, err := a.desk.KeepStyle(ctx, who(ctx), "", in.Body.Name, in.Body.Style)
		return &out[KeptStyleBody]{body(ctx, k)}, a.fail(ctx, err)
	})
	huma.Register(g, lenient(op(http.MethodPut, "/api/styles/{key}", "change-style", "Change a kept style, and with it all charts that ask for it")), func(ctx context.Context, in *struct {
		Key  string `path:"key"`
		Body keptStyleIn
	}) (*out[KeptStyleBody], error) {
		k, err := a.desk.KeepStyle(ctx, who(ctx), in.Key, in.Body.Name, in.Body.Style)
		return &out[KeptStyleBody]{body(ctx, k)}, a.fail(ctx, err)
	})
	huma.Register(g, op(http.MethodDelete, "/api/styles/{key}", "drop-style", "Delete a kept style"), func(ctx context.Context, in *struct {
		Key string `path:"key"`
	}) (*struct{}, error) {
		return nil, a.fail(ctx, a.desk.DropStyle(ctx, who(ctx), in.Key))
	})
	huma.Register(g, op(http.MethodPut, "/api/reports/{id}/style", "dress", "Have a report's chart follow a kept style, or the house style"), func(ctx context.Context, in *struct {
		ID   int64 `path:"id"`
		Body struct {
			Style string `json:"style" doc:"A key; empty for the house style"`
		}
	}) (*out[ReportBody], error) {
		r, err := a.desk.Dress(ctx, who(ctx), in.ID, in.Body.Style)
		return a.opened(ctx, r, err)
	})
}

// EventBody says that something that was kept has changed.
type EventBody struct {
	Kind string `json:"kind"`
	ID   int64  `json:"id"`
}

// events streams what changes, as server-sent events, until the client goes. A comment every now and then keeps the
// connection from being taken for dead.
func (a *api) events(w http.ResponseWriter, r *http.Request) {
	if _, err := a.desk.Who(r.Context(), a.sessions.GetInt64(r.Context(), personKey)); err != nil {
		writeProblem(w, a.problem(r.Context(), err))
		return
	}
	flow := http.NewResponseController(w)
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("Cache-Control", "no-store")
	send := func(text string) bool {
		if err := flow.SetWriteDeadline(time.Now().Add(30 * time.Second)); err != nil {
			return false
		}
		if _, err := fmt.Fprint(w, text); err != nil {
			return false
		}
		return flow.Flush() == nil
	}
	events, stop := a.desk.Listen()
	defer stop()
	tick := time.NewTicker(20 * time.Second)
	defer tick.Stop()
	for ok := send(": hello\n\n"); ok; {
		select {
		case <-r.Context().Done():
			return
		case e := <-events:
			text, err := json.Marshal(EventBody(e))
			ok = err == nil && send("data: "+string(text)+"\n\n")
		case <-tick.C:
			ok = send(": still here\n\n")
		}
	}
}
