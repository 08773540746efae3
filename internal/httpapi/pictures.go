package httpapi

import (
	"context"
	"encoding/json"
	"mime"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/printing"
)

// LookIn is how a picture is asked for.
type LookIn struct {
	Format string  `query:"format" enum:"svg,png,pdf" default:"png"`
	On     string  `query:"on" enum:"paper,ink" default:"paper" doc:"The ground; pages are white"`
	Width  float64 `query:"width" default:"900" doc:"In pixels; pages are A4"`
	Height float64 `query:"height" default:"520"`
	Fine   float64 `query:"fine" default:"2" doc:"Dots a pixel, of a PNG"`
}

var pictureTypes = map[string]string{"svg": "image/svg+xml", "png": "image/png", "pdf": "application/pdf"}

type pictureOut struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

func (a *api) painted(ctx context.Context, pr *printing.Print, l LookIn) (*pictureOut, error) {
	out, err := a.app.Printer.Picture(ctx, pr, printing.Look(l))
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	name := naming.File(pr.Title) + " - " + brief.DayWords(view(ctx).Day) + "." + l.Format
	return &pictureOut{
		pictureTypes[l.Format], mime.FormatMediaType("inline", map[string]string{"filename": name}), out,
	}, nil
}

func pictureOp(method, path, id, summary string) huma.Operation {
	o := op(method, path, id, summary)
	o.Responses = map[string]*huma.Response{
		"200": {Description: "OK", Content: map[string]*huma.MediaType{
			"image/svg+xml": {}, "image/png": {}, "application/pdf": {},
		}},
	}
	return o
}

func (a *api) pictures(g huma.API) {
	huma.Register(
		g,
		pictureOp(http.MethodGet, "/api/reports/{id}/picture", "report-picture", "A report as a picture, or on pages"),
		func(ctx context.Context, in *struct {
			LookIn
			ID int64 `path:"id"`
		}) (*pictureOut, error) {
			pr, err := a.app.Printer.Report(ctx, view(ctx), in.ID)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return a.painted(ctx, pr, in.LookIn)
		},
	)
	huma.Register(
		g,
		lenient(pictureOp(http.MethodPost, "/api/picture", "picture", "A brief as a picture, or on pages")),
		func(ctx context.Context, in *struct {
			LookIn
			Body struct {
				Brief  Brief  `json:"brief"`
				Report int64  `json:"report,omitempty" doc:"The saved report that the brief is a reading of"`
				Title  string `json:"title,omitempty" maxLength:"200"`
			}
		}) (*pictureOut, error) {
			if err := in.Body.Brief.checked(); err != nil {
				return nil, a.fail(ctx, err)
			}
			report := max(in.Body.Report, in.Body.Brief.Reading)
			asked, err := a.app.Library.MayTake(ctx, view(ctx), report, in.Body.Brief.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			pr, err := a.app.Printer.Brief(ctx, view(ctx), in.Body.Title, asked)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return a.painted(ctx, pr, in.LookIn)
		},
	)
	huma.Register(
		g,
		pictureOp(http.MethodGet, "/api/boards/{id}/picture", "board-picture", "A dashboard on pages, as PDF"),
		func(ctx context.Context, in *struct {
			ID      int64  `path:"id"`
			Format  string `query:"format" enum:"pdf" default:"pdf"`
			Filters string `query:"filters" maxLength:"20000" doc:"What it is narrowed to, as JSON; as it is kept where it is left out"`
		}) (*pictureOut, error) {
			var f *board.Filters
			if in.Filters != "" {
				f = &board.Filters{}
				if err := json.Unmarshal([]byte(in.Filters), f); err != nil {
					return nil, a.fail(ctx, fault.New(fault.Invalid, "/filters", "The filters cannot be read."))
				}
			}
			pr, err := a.app.Printer.Board(ctx, view(ctx), in.ID, f)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return a.painted(ctx, pr, LookIn{Format: in.Format})
		},
	)
}
