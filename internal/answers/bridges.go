package answers

import (
	"context"
	"slices"
	"strconv"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/result"
)

// MovedGroups is what moved, cut up by a group.
type MovedGroups struct {
	Label  string // of the group
	Drawn  string // the summary that the values are of, "" where they count records
	Steps  []MoveColumn
	Groups []MovedGroup
	Left   int // how many groups there are besides
}

// MoveColumn is a step that some group has.
type MoveColumn struct{ Step, Words string }

// MovedGroup is the bridge of one group.
type MovedGroup struct {
	Key, Label        string
	Then, Now, Change string
	Way               int        // of the change: 1, −1 or 0
	Cells             []MoveCell // by step
}

// MoveCell is a step of a group; without records it is not one of its.
type MoveCell struct {
	Records int64
	Value   string
}

// maxMovedGroups is how many groups are told one by one.
const maxMovedGroups = 200

// MovedGroups cuts what moved in a brief up by its first group.
func (v *View) MovedGroups(ctx context.Context, b *brief.Brief) (*MovedGroups, error) {
	b = since(b)
	q, err := v.question(b, "moved groups")
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (*MovedGroups, error) {
		bound, err := v.Bind(b)
		if err != nil {
			return nil, err
		}
		var out *MovedGroups
		err = v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
			m, err := engine.RunMoves(ctx, v.Snap, bound, opts)
			if err != nil {
				return err
			}
			list, err := m.Bridges(bound)
			if err == nil {
				out = v.tellBridges(bound, m, list)
			}
			return err
		})
		return out, err
	}, func(g *MovedGroups) int64 { return int64(len(g.Groups)*(len(g.Steps)+4)) * 60 })
}

func (v *View) tellBridges(b *brief.Bound, m *engine.Moves, list []engine.Bridge) *MovedGroups {
	out := &MovedGroups{Label: brief.GroupLabel(b.Groups[0])}
	if m.By >= 0 {
		out.Drawn = brief.SummaryLabel(b, m.Summaries[m.By])
	}
	if len(list) > maxMovedGroups {
		out.Left = len(list) - maxMovedGroups
		list = list[:maxMovedGroups]
	}
	// The words of steps are those of the whole; a step that only groups have comes where it belongs among them.
	told := v.tellMoves(b, m)
	var present []string
	for _, br := range list {
		for _, s := range br.Steps {
			if s.Step != engine.MoveThen && s.Step != engine.MoveNow && s.Step != engine.MoveSame &&
				!slices.Contains(present, s.Step) {
				present = append(present, s.Step)
			}
		}
	}
	for _, step := range engine.StepsInOrder(present) {
		out.Steps = append(out.Steps, MoveColumn{step, stepWords(b, told, step)})
	}
	for _, br := range list {
		out.Groups = append(out.Groups, v.tellBridge(b, m, br, out.Steps))
	}
	return out
}

func (v *View) tellBridge(b *brief.Bound, m *engine.Moves, br engine.Bridge, steps []MoveColumn) MovedGroup {
	last := len(br.Steps) - 1
	then, now := m.AmountOf(br.Steps[0]), m.AmountOf(br.Steps[last])
	d := now.Sub(then)
	g := MovedGroup{
		Key:    br.Key,
		Label:  v.Writer().Label(b.Groups[0], br.Member),
		Then:   v.inShort(m, then, false),
		Now:    v.inShort(m, now, false),
		Change: v.inShort(m, d, true),
		Way:    d.Sign(),
	}
	for _, c := range steps {
		cell := MoveCell{}
		for _, s := range br.Steps[1:last] {
			if s.Step == c.Step {
				cell = MoveCell{s.Records, v.inShort(m, m.AmountOf(s), true)}
			}
		}
		g.Cells = append(g.Cells, cell)
	}
	return g
}

// inShort writes an amount of what a bridge is drawn by, as there is room for in a wide table: €255.8 K; with its sign
// where it is a change.
func (v *View) inShort(m *engine.Moves, n exact.Num, signed bool) string {
	text := v.Figures.Form.Number(strconv.FormatInt(whole(n.Abs()), 10))
	if m.By >= 0 {
		s := m.Summaries[m.By]
		text = v.PlainWriter().Short(s.Kind, result.Value{Set: true, Num: n.Abs()}, s.Source.Format)
	}
	switch {
	case n.Sign() < 0:
		return "−" + text
	case signed && n.Sign() > 0:
		return "+" + text
	}
	return text
}
