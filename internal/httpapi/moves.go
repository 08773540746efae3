package httpapi

import (
	"context"
	"encoding/json"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/chart"
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
	Drawing   *chart.Drawing `json:"drawing" doc:"Of the steps that change what the bars are of; marks name steps"`
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
	Words     string           `json:"words" doc:"What is told, in words"`
	Target    string           `json:"target,omitempty" doc:"Of the report, where it has one: a line across"`
	Points    []StoodPointBody `json:"points"`
	Drawing   *chart.Drawing   `json:"drawing,omitempty" doc:"By the brief's first group where what is told adds up, else of the whole"`
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

// MovedGroupsBody is what moved, cut up by a group.
type MovedGroupsBody struct {
	Label  string           `json:"label" doc:"Of the group"`
	Drawn  string           `json:"drawn" doc:"What the values are of; empty where they count records"`
	Steps  []MoveColumnBody `json:"steps" doc:"Those that some group has"`
	Groups []MovedGroupBody `json:"groups"`
	Left   int              `json:"left" doc:"How many groups there are besides"`
}

// MoveColumnBody is a step that some group has.
type MoveColumnBody struct {
	Step  string `json:"step"`
	Words string `json:"words"`
}

// MovedGroupBody is the bridge of one group.
type MovedGroupBody struct {
	Key    string         `json:"key"`
	Label  string         `json:"label"`
	Then   string         `json:"was"`
	Now    string         `json:"now"`
	Change string         `json:"change"`
	Way    int            `json:"way"`
	Cells  []MoveCellBody `json:"cells" doc:"By step"`
}

// MoveCellBody is a step of a group; without records it is not one of its.
type MoveCellBody struct {
	Records int64  `json:"records"`
	Value   string `json:"value"`
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
				Count int         `json:"count" minimum:"1" maximum:"92"`
				Lines bool        `json:"lines,omitempty" doc:"Draws groups as lines, not as areas on one another"`
			}
		}) (*out[StoodBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			s, err := view(ctx).Stood(ctx, b, in.Body.Unit, in.Body.Count, in.Body.Lines)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := StoodBody{
				Summaries: append([]string{}, s.Summaries...), Drawn: s.Drawn, Words: s.Words(in.Body.Unit), Target: s.Target,
				Drawing: s.Drawing,
			}
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
			body := MovesBody{m.Since, m.AsOf, m.Text, m.Sentence, append([]string{}, m.Summaries...), m.Drawn, nil, m.Drawing}
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
		lenient(
			op(
				http.MethodPost,
				"/api/moves/groups",
				"moved-groups",
				"What moved since a day, cut up by the brief's first group",
			),
		),
		func(ctx context.Context, in *briefBody) (*out[MovedGroupsBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			m, err := view(ctx).MovedGroups(ctx, b)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := MovedGroupsBody{
				Label:  m.Label,
				Drawn:  m.Drawn,
				Steps:  []MoveColumnBody{},
				Groups: []MovedGroupBody{},
				Left:   m.Left,
			}
			for _, s := range m.Steps {
				body.Steps = append(body.Steps, MoveColumnBody(s))
			}
			for _, g := range m.Groups {
				one := MovedGroupBody{g.Key, g.Label, g.Then, g.Now, g.Change, g.Way, []MoveCellBody{}}
				for _, c := range g.Cells {
					one.Cells = append(one.Cells, MoveCellBody(c))
				}
				body.Groups = append(body.Groups, one)
			}
			return &out[MovedGroupsBody]{body}, nil
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/moves/records", "moved", "A page of the records of one step of what moved")),
		func(ctx context.Context, in *struct {
			Body struct {
				Brief Brief  `json:"brief"`
				Step  string `json:"step"`
				Group string `json:"group,omitempty" doc:"Of which group, by its key; of all where it is left out"`
				From  int    `json:"from,omitempty" minimum:"0"`
				Count int    `json:"count,omitempty" maximum:"200"`
			}
		}) (*out[MovedBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			p, err := view(ctx).Moved(ctx, b, in.Body.Step, in.Body.Group, in.Body.From, in.Body.Count)
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

// PassagesBody is how records went on from stage to stage.
type PassagesBody struct {
	Dates   string             `json:"dates" doc:"The days within which they came into a stage"`
	Label   string             `json:"label" doc:"Of the group; empty where there is none"`
	Groups  []PassageGroupBody `json:"groups" doc:"All of them, then group by group"`
	Drawing *chart.Drawing     `json:"drawing"`
	Left    int                `json:"left" doc:"How many groups there are besides"`
}

// PassageGroupBody is one group's.
type PassageGroupBody struct {
	Label  string          `json:"label"`
	Stages []FromStageBody `json:"stages"`
}

// FromStageBody is what became of those that came into a stage, each counted once.
type FromStageBody struct {
	Stage    string        `json:"stage"`
	Pipeline string        `json:"pipeline"`
	Entered  int64         `json:"entered"`
	Onward   int64         `json:"onward" doc:"How many went to a later stage that is not lost"`
	Still    int64         `json:"still" doc:"How many are there yet"`
	Rate     string        `json:"rate" doc:"Of those that went on"`
	Median   string        `json:"median" doc:"Of the days of those that left; empty where none did"`
	To       []ToStageBody `json:"to" doc:"Where they went next, most first"`
}

// ToStageBody is where some of them went next.
type ToStageBody struct {
	Stage string `json:"stage"`
	Count int64  `json:"count"`
}

// withinIn is a question about a brief's records within a period.
type withinIn struct {
	Body struct {
		Brief  Brief           `json:"brief"`
		Within json.RawMessage `json:"within" doc:"A period as a brief has it"`
	}
}

// within reads a question about a period.
func (a *api) within(ctx context.Context, in *withinIn) (*brief.Brief, period.Period, error) {
	b, err := a.asked(ctx, &in.Body.Brief)
	if err != nil {
		return nil, period.Period{}, err
	}
	within, err := brief.DecodePeriod(in.Body.Within)
	return b, within.Period, err
}

func (a *api) passages(g huma.API) {
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/passages", "passages",
			"How records that came into a stage within a period went on, with rates and days; by the brief's first group")),
		func(ctx context.Context, in *withinIn) (*out[PassagesBody], error) {
			b, within, err := a.within(ctx, in)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			p, err := view(ctx).Passages(ctx, b, within)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := PassagesBody{Dates: p.Dates, Label: p.Label, Groups: []PassageGroupBody{}, Drawing: p.Drawing, Left: p.Left}
			for _, g := range p.Groups {
				one := PassageGroupBody{g.Label, []FromStageBody{}}
				for _, s := range g.Stages {
					from := FromStageBody{s.Stage, s.Pipeline, s.Entered, s.Onward, s.Still, s.Rate, s.Median, []ToStageBody{}}
					for _, to := range s.To {
						from.To = append(from.To, ToStageBody(to))
					}
					one.Stages = append(one.Stages, from)
				}
				body.Groups = append(body.Groups, one)
			}
			return &out[PassagesBody]{body}, nil
		},
	)
}

// HeldBody is how what was expected came true.
type HeldBody struct {
	On       string            `json:"on" doc:"When it was expected"`
	Dates    string            `json:"dates" doc:"Within which days"`
	Text     string            `json:"text"`
	Outcomes []HeldOutcomeBody `json:"outcomes" doc:"All that was expected, then what became of it"`
	Likely   []HeldBandBody    `json:"likely" doc:"By the likelihood that was stated; none where the records have none"`
	Won      string            `json:"won" doc:"How many were won within the days, expected or not"`
	Median   string            `json:"median" doc:"How long after their date those that were decided were, in words; empty where none was"`
	Decided  int64             `json:"decided"`
}

// HeldOutcomeBody is what became of some of what was expected.
type HeldOutcomeBody struct {
	Words   string  `json:"words"`
	Records int64   `json:"records"`
	Value   string  `json:"value" doc:"The amounts that were expected; empty where the records have none"`
	Share   float64 `json:"share" doc:"Of what was expected"`
	Part    string  `json:"part" doc:"The same for people"`
}

// HeldBandBody is those of one stated likelihood.
type HeldBandBody struct {
	Stated  string  `json:"stated"`
	Records int64   `json:"records"`
	Won     int64   `json:"won"`
	Came    string  `json:"came" doc:"The part that was won"`
	Said    float64 `json:"said" doc:"The likelihood as a part of one"`
	Is      float64 `json:"is" doc:"What was won as a part of one"`
}

func (a *api) held(g huma.API) {
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/held", "held",
			"How well dates and likelihoods held: what was expected within a period, as seen before it, and what became of it")),
		func(ctx context.Context, in *withinIn) (*out[HeldBody], error) {
			b, within, err := a.within(ctx, in)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			h, err := view(ctx).Held(ctx, b, within)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := HeldBody{
				On: h.On, Dates: h.Dates, Text: h.Text, Won: h.Won, Median: h.Median, Decided: h.Decided,
				Outcomes: []HeldOutcomeBody{}, Likely: []HeldBandBody{},
			}
			for _, o := range h.Outcomes {
				body.Outcomes = append(body.Outcomes, HeldOutcomeBody(o))
			}
			for _, l := range h.Likely {
				body.Likely = append(body.Likely, HeldBandBody(l))
			}
			return &out[HeldBody]{body}, nil
		},
	)
}
