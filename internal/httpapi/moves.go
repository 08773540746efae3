package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/period"
)

// MoveStepBody is one step of what moved.
type MoveStepBody struct {
	Step    string   `json:"step" doc:"then, new, back, reopened, came:…, grown, shrunk, same, won, lost, went:…, deleted or now"`
	Words   string   `json:"words"`
	Records int64    `json:"records"`
	Values  []string `json:"values" doc:"By summary, of changes with their sign"`
	Total   bool     `json:"total" doc:"Whether it is what the report finds on the first or the last day"`
	Sign    int      `json:"sign" doc:"Whether it is more (1) or less (-1)"`
	From    float64  `json:"from" doc:"Where its bar begins, as a part of the width"`
	To      float64  `json:"to"`
	Zero    float64  `json:"zero"`
}

// MovesBody is what moved between two days.
type MovesBody struct {
	Since     string         `json:"since"`
	AsOf      string         `json:"asOf"`
	Text      string         `json:"text" doc:"What moved as a sentence"`
	Sentence  brief.Sentence `json:"sentence"`
	Summaries []string       `json:"summaries"`
	Drawn     string         `json:"drawn" doc:"The summary that the bars are of; empty for the records"`
	Steps     []MoveStepBody `json:"steps"`
}

// MovedBody is a page of the records of a step.
type MovedBody struct {
	Type    string            `json:"type"`
	Field   string            `json:"field" doc:"What put them there; empty where no one field did"`
	Amount  string            `json:"amount" doc:"What is added up of each; empty where they are counted"`
	Records []MovedRecordBody `json:"records"`
	Count   int               `json:"count"`
}

// MovedRecordBody is a record of a step.
type MovedRecordBody struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	There bool   `json:"there" doc:"Whether it is still there to be opened"`
	Then  string `json:"countedThen" doc:"Empty where it was not counted"`
	Now   string `json:"countedNow"`
	Was   string `json:"was" doc:"What it had of the field"`
	Is    string `json:"is"`
}

// StoodBody is how a report stood at the ends of days, weeks or months, the latest last.
type StoodBody struct {
	Summaries []string         `json:"summaries"`
	Drawn     string           `json:"drawn" doc:"The summary that the bars are of"`
	Points    []StoodPointBody `json:"points"`
}

// StoodPointBody is how a report stood at the end of a day.
type StoodPointBody struct {
	Day     string   `json:"day"`
	Date    string   `json:"date" doc:"As a brief names it; empty for now"`
	Values  []string `json:"values" doc:"By summary"`
	Records int64    `json:"records"`
	From    float64  `json:"from" doc:"Where its bar begins, as a part of the width"`
	To      float64  `json:"to"`
}

func (a *api) stood(g huma.API) {
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/stood", "stood",
			"How the totals of a report stood at the ends of days, weeks or months, and now")),
		func(ctx context.Context, in *struct {
			Body struct {
				Brief Brief       `json:"brief"`
				Unit  period.Unit `json:"unit" enum:"day,week,month"`
				Count int         `json:"count" minimum:"1" maximum:"60"`
			}
		}) (*out[StoodBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			s, err := view(ctx).Stood(ctx, b, in.Body.Unit, in.Body.Count)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := StoodBody{Summaries: append([]string{}, s.Summaries...), Drawn: s.Drawn}
			for _, p := range s.Points {
				body.Points = append(body.Points, StoodPointBody{p.Day, p.Date, p.Values, p.Records, p.From, p.To})
			}
			return &out[StoodBody]{body}, nil
		},
	)
}

func (a *api) moves(g huma.API) {
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/moves", "moves",
			"What moved since a day: each record in one step. Without since, from the end of last week")),
		func(ctx context.Context, in *briefBody) (*out[MovesBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			m, err := view(ctx).Moves(ctx, b)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := MovesBody{m.Since, m.AsOf, m.Text, m.Sentence, append([]string{}, m.Summaries...), m.Drawn, nil}
			for _, s := range m.Steps {
				body.Steps = append(body.Steps, MoveStepBody{
					s.Step, s.Words, s.Records, append([]string{}, s.Values...), s.Total, s.Sign, s.From, s.To, s.Zero,
				})
			}
			return &out[MovesBody]{body}, nil
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/moves/records", "moved", "A page of the records of one step of what moved")),
		func(ctx context.Context, in *struct {
			Body struct {
				Brief Brief  `json:"brief"`
				Step  string `json:"step"`
				From  int    `json:"from,omitempty" minimum:"0"`
				Count int    `json:"count,omitempty" maximum:"200"`
			}
		}) (*out[MovedBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			p, err := view(ctx).Moved(ctx, b, in.Body.Step, in.Body.From, in.Body.Count)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := MovedBody{p.Type, p.Field, p.Amount, []MovedRecordBody{}, p.Count}
			for _, r := range p.Records {
				body.Records = append(body.Records, MovedRecordBody(r))
			}
			return &out[MovedBody]{body}, nil
		},
	)
}
