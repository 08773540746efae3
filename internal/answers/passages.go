package answers

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/result"
)

// Passages say how the records of a brief went on from stage to stage, for people.
type Passages struct {
	Dates   string // the days within which they came into a stage
	Label   string // of the group, "" where there is none
	Groups  []PassageGroup
	Drawing *chart.Drawing // of all of them
	Left    int            // how many groups there are besides
}

// PassageGroup is one group's, or all of them: the first.
type PassageGroup struct {
	Label  string
	Stages []FromStage
}

// FromStage is what became of those that came into a stage.
type FromStage struct {
	Stage, Pipeline string
	Entered         int64
	Onward, Still   int64
	Rate            string // of those that went on
	Median          string // days of those that left, "" where none did
	To              []ToStage
}

// ToStage is where some of them went next.
type ToStage struct {
	Stage string
	Count int64
}

const maxPassageGroups = 40

// Passages tells how the records that a brief finds went on, of those that came into a stage within a period.
func (v *View) Passages(ctx context.Context, b *brief.Brief, within period.Period) (*Passages, error) {
	span, err := v.Period(within)
	if err != nil {
		return nil, err
	}
	q, err := v.question(b, fmt.Sprintf("passages %+v", within))
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (*Passages, error) {
		bound, err := v.Bind(b)
		if err != nil {
			return nil, err
		}
		var out *Passages
		err = v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
			p, err := engine.RunPassages(ctx, v.Snap, bound, opts, span)
			if err == nil {
				out = v.tellPassages(bound, p, span)
			}
			return err
		})
		return out, err
	}, func(p *Passages) int64 { return int64(len(p.Groups)) * 4000 })
}

func (v *View) tellPassages(b *brief.Bound, p *engine.Passages, span period.Span) *Passages {
	out := &Passages{Dates: brief.SpanWords(span), Groups: []PassageGroup{{Label: "All", Stages: v.fromStages(p, p.All)}}}
	if len(b.Groups) > 0 {
		out.Label = brief.GroupLabel(b.Groups[0])
	}
	list := p.Groups
	if len(list) > maxPassageGroups {
		out.Left = len(list) - maxPassageGroups
		list = list[:maxPassageGroups]
	}
	w := v.Writer()
	for _, g := range list {
		out.Groups = append(out.Groups, PassageGroup{w.Label(b.Groups[0], g.Member), v.fromStages(p, g.Passage)})
	}
	var bars []chart.StageBar
	for _, s := range out.Groups[0].Stages {
		step, detail := s.Rate+" went on", brief.Counted(b.Parts[0].Start(), s.Entered)
		if s.Median != "" {
			detail += ", " + s.Median + " days"
		}
		if s.Onward == 0 && s.Entered == s.Still {
			step = "all are there yet"
		}
		bars = append(bars, chart.StageBar{Label: s.Stage, Detail: detail, Step: step, Count: s.Entered})
	}
	out.Drawing = chart.Stages(w, "From stage to stage", b.Parts[0].Start().Label, bars)
	return out
}

// fromStages are the open stages into which some came; of the others nothing goes on.
func (v *View) fromStages(p *engine.Passages, all engine.Passage) []FromStage {
	list := []FromStage{}
	for i, f := range all.ByStage {
		st := p.Stages[i]
		if st.Status != "open" || p.All.ByStage[i].Entered == 0 {
			continue
		}
		one := FromStage{
			Stage: st.Name, Pipeline: st.Pipeline, Entered: f.Entered, Onward: f.Onward, Still: f.Still, To: []ToStage{},
			Rate: v.PlainWriter().Ratio(f.Rate()), Median: v.days(f.Median()),
		}
		for to, n := range f.To {
			name := "a stage there is no longer"
			if to >= 0 {
				name = p.Stages[to].Name
			}
			one.To = append(one.To, ToStage{name, n})
		}
		slices.SortFunc(one.To, func(x, y ToStage) int {
			return cmp.Or(cmp.Compare(y.Count, x.Count), cmp.Compare(x.Stage, y.Stage))
		})
		list = append(list, one)
	}
	return list
}

func (v *View) days(d result.Value) string {
	if !d.Set {
		return ""
	}
	return v.Figures.Form.Number(strconv.FormatFloat(d.Num.Float(), 'f', -1, 64))
}
