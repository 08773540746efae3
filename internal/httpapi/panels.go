package httpapi

import (
	"context"
	"encoding/json"
	"net/http"
	"reflect"
	"sync"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/internal/boards"
	"uzzel/internal/fault"
)

// FiltersBody is what filters say, and what a report makes of them.
type FiltersBody struct {
	Whose  string     `json:"whose" doc:"Empty where they say nothing of it, as the others are"`
	Period string     `json:"period"`
	Dates  string     `json:"dates" doc:"The days that the period has today, where it does not name them"`
	Fields []string   `json:"fields" doc:"Each as a condition, in their order"`
	AsOf   string     `json:"asOf" doc:"The day that they are read as of; empty for now"`
	Under  *UnderBody `json:"under,omitempty" doc:"The report under them, where one was sent"`
}

// UnderBody is a report under a dashboard's filters.
type UnderBody struct {
	Brief   Brief    `json:"brief"`
	Obeys   []string `json:"obeys" doc:"What it follows, in words"`
	Ignores []string `json:"ignores" doc:"What it cannot follow, in words"`
}

func underBody(u board.Under, reading int64) UnderBody {
	return UnderBody{
		public(brief.ForOwner(u.Brief), reading),
		append([]string{}, u.Obeys...),
		append([]string{}, u.Ignores...),
	}
}

// PanelAsk is a panel that is to be answered.
type PanelAsk struct {
	Report  int64         `json:"report"`
	Options board.Options `json:"options,omitempty"`
	Type    string        `json:"type,omitempty" doc:"The record type on whose pages it stands; left out on a dashboard"`
	ID      string        `json:"id,omitempty" doc:"The record on whose page it stands"`
}

// PanelLine is one answered panel: a line of the stream.
type PanelLine struct {
	At      int                `json:"at" doc:"Its place among those that were asked for"`
	Problem *ErrorBody         `json:"problem,omitempty" doc:"Why it could not be answered; the others are not affected"`
	Report  *ReportBody        `json:"report,omitempty"`
	Words   string             `json:"words,omitempty" doc:"What of a record it shows"`
	Under   *UnderBody         `json:"under,omitempty" doc:"Its report as it is read here"`
	Narrows *board.FieldFilter `json:"narrows,omitempty" doc:"The field by which its marks narrow the other panels"`
	Answer  *AnswerBody        `json:"answer,omitempty"`
	List    *ListBody          `json:"list,omitempty" doc:"The first page of its records, where it shows those"`
}

type panelsIn struct {
	Body struct {
		Filters board.Filters `json:"filters,omitempty"`
		Panels  []PanelAsk    `json:"panels" maxItems:"60"`
	}
}

// lineType is what the lines of a stream of panels are.
const lineType = "application/x-ndjson"

func (a *api) panels(g huma.API) {
	huma.Register(
		g,
		lenient(
			op(
				http.MethodPost,
				"/api/filters",
				"say-filters",
				"What the filters of a dashboard say, and what a report makes of them",
			),
		),
		func(ctx context.Context, in *struct {
			Body struct {
				Filters board.Filters `json:"filters"`
				Brief   *Brief        `json:"brief,omitempty"`
			}
		}) (*out[FiltersBody], error) {
			said, err := view(ctx).SayFilters(in.Body.Filters)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := FiltersBody{Whose: said.Whose, Period: said.Period, Dates: said.Dates, Fields: said.Fields, AsOf: said.AsOf}
			if b := in.Body.Brief; b != nil {
				if err := b.checked(); err != nil {
					return nil, a.fail(ctx, err)
				}
				u, err := in.Body.Filters.Apply(view(ctx).Snap.Schema, b.Brief, nil)
				if err != nil {
					return nil, a.fail(ctx, err)
				}
				under := underBody(u, b.Reading)
				body.Under = &under
			}
			return &out[FiltersBody]{body}, nil
		},
	)
	o := lenient(
		op(
			http.MethodPost,
			"/api/panels",
			"panels",
			"Panels of a dashboard or a record's page, each as soon as it is answered",
		),
	)
	line := g.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[PanelLine](), true, "PanelLine")
	o.Responses = map[string]*huma.Response{
		"200": {
			Description: "A line of JSON for each panel, in the order in which they are answered",
			Content:     map[string]*huma.MediaType{lineType: {Schema: line}},
		},
	}
	huma.Register(g, o, func(ctx context.Context, in *panelsIn) (*huma.StreamResponse, error) {
		if len(in.Body.Panels) > boards.MaxPanels {
			return nil, a.fail(ctx, fault.New(fault.Invalid, "/panels", "A dashboard has %d panels at most.", boards.MaxPanels))
		}
		if _, err := in.Body.Filters.Read(view(ctx).Snap.Schema); err != nil {
			return nil, a.fail(ctx, err)
		}
		return &huma.StreamResponse{Body: func(c huma.Context) { a.streamPanels(c, in) }}, nil
	})
}

// streamPanels writes a line for each panel as soon as it is answered. Where the reader has gone, the rest is given up.
func (a *api) streamPanels(c huma.Context, in *panelsIn) {
	ctx, stop := context.WithCancel(c.Context())
	defer stop()
	c.SetHeader("Content-Type", lineType)
	list := make([]boards.PanelAsk, len(in.Body.Panels))
	for i, p := range in.Body.Panels {
		list[i] = boards.PanelAsk(p)
	}
	var mu sync.Mutex // held while a line is written
	a.app.Boards.Panels(ctx, view(ctx), in.Body.Filters, list, func(i int, p boards.PanelShown, err error) {
		line := a.panelLine(ctx, i, p, err)
		text, err := json.Marshal(line)
		if err != nil {
			a.cfg.Log.ErrorContext(ctx, "writing a panel", "error", err)
			return
		}
		mu.Lock()
		defer mu.Unlock()
		if _, err := c.BodyWriter().Write(append(text, '\n')); err != nil {
			stop()
			return
		}
		if f, ok := c.BodyWriter().(http.Flusher); ok {
			f.Flush()
		}
	})
}

// panelLine writes an answered panel down, or why it could not be answered.
func (a *api) panelLine(ctx context.Context, at int, p boards.PanelShown, err error) PanelLine {
	line := PanelLine{At: at, Words: p.Words}
	if p.Report.ID != 0 {
		report := reportBody(view(ctx), p.Report)
		line.Report = &report
	}
	if err == nil {
		err = a.answered(ctx, &line, p)
	}
	if err != nil {
		line.Answer, line.List, line.Problem = nil, nil, a.problem(ctx, err)
	}
	return line
}

func (a *api) answered(ctx context.Context, line *PanelLine, p boards.PanelShown) error {
	under := underBody(p.Under, p.Report.Reading())
	line.Under, line.Narrows = &under, p.Narrows
	err := view(ctx).Write(ctx, func(yield func() error) error {
		body, err := answerBody(p.Answer, 0, yield)
		line.Answer = &body
		return err
	})
	if err != nil || p.List == nil {
		return err
	}
	page, err := listPage(ctx, p.List, 0, 0)
	line.List = page
	return err
}
