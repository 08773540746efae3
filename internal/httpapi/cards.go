package httpapi

import (
	"bytes"
	"context"
	"io"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"uzzel/internal/answers"
	"uzzel/internal/cards"
	"uzzel/internal/fault"
	"uzzel/internal/people"
)

// cards are the operations that give contacts as cards and planned activities as a calendar.
func (a *api) cards(g huma.API) {
	given := func(path, id, summary, kind, name string, write func(io.Writer, *answers.View) error) {
		o := op(http.MethodGet, path, id, summary)
		o.Responses = map[string]*huma.Response{"200": {Description: "A file", Content: map[string]*huma.MediaType{kind: {}}}}
		huma.Register(g, o, func(ctx context.Context, _ *none) (*huma.StreamResponse, error) {
			var text bytes.Buffer
			if err := write(&text, view(ctx)); err != nil {
				return nil, a.fail(ctx, err)
			}
			return &huma.StreamResponse{Body: func(ctx huma.Context) {
				ctx.SetHeader("Content-Type", kind+"; charset=utf-8")
				ctx.SetHeader("Content-Disposition", `attachment; filename="`+name+`"`)
				_, _ = ctx.BodyWriter().Write(text.Bytes())
			}}, nil
		})
	}
	given(
		"/api/contacts.vcf",
		"contact-cards",
		"The contacts that one sees, as cards",
		"text/vcard",
		"contacts.vcf",
		cards.Contacts,
	)
	given(
		"/api/planned.ics",
		"planned",
		"One's planned activities, as a calendar",
		"text/calendar",
		"planned.ics",
		cards.Planned,
	)
}

// feed gives a calendar the planned activities of whom the token in its address is of.
func (a *api) feed(w http.ResponseWriter, r *http.Request) {
	who, scopes, err := a.app.People.Bearer(r.Context(), chi.URLParam(r, "token"))
	if err == nil && !slices.Contains(scopes, people.Calendar) {
		err = fault.New(fault.Forbidden, "", "This token is for no calendar.")
	}
	var text bytes.Buffer
	if err == nil {
		asker(r.Context(), who.ID)
		err = cards.Planned(&text, a.app.View(who))
	}
	if err != nil {
		writeProblem(w, a.problem(r.Context(), err))
		return
	}
	w.Header().Set("Content-Type", "text/calendar; charset=utf-8")
	w.Header().Set("Cache-Control", "private, no-store")
	_, _ = w.Write(text.Bytes())
}
