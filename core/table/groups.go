package table

import (
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/result"
)

// GroupInfo is one field of groups or across.
type GroupInfo struct {
	Field   string `json:"field"`
	Label   string `json:"label"`
	Across  bool   `json:"across"`
	Overlap bool   `json:"overlap" doc:"Whether its groups share records and add up to more than their total"`
}

// SummaryInfo is one summary.
type SummaryInfo struct {
	Key   string `json:"key"`
	Label string `json:"label"`
}

// HeadColumn is one column of the table of groups: a group across, or all of them together.
type HeadColumn struct {
	Labels []string `json:"labels" doc:"From the outermost group across; none for the total"`
	Keys   []string `json:"keys"`
	Total  bool     `json:"total" doc:"Whether it is a subtotal or the total"`
}

// GroupLine is one line of the table of groups.
type GroupLine struct {
	Label  string           `json:"label"`
	Depth  int              `json:"depth" doc:"0 is the total"`
	Keys   []string         `json:"keys"`
	Inner  bool             `json:"inner" doc:"Whether it is an innermost group"`
	Cells  [][]string       `json:"cells" doc:"By column, by summary"`
	Before [][]chart.Change `json:"before,omitempty" doc:"By column, by summary: against the earlier period, where the brief compares"`
}

// Groups is a result as a table of groups: a line for each, before those in it, and the total last; groups across are
// columns, each before its subtotal.
type Groups struct {
	Groups    []GroupInfo
	Summaries []SummaryInfo
	Columns   []HeadColumn
	Lines     []GroupLine
	MoreLines int // how many lines there are besides
}

// MaxCells is how many cells a table holds: a wide one has fewer lines.
const MaxCells = 200_000

// OfGroups lays a result out, with at most so many lines. It calls yield before each, and ends where that fails.
func OfGroups(r *result.Result, w chart.Writer, most int, yield func() error) (Groups, error) {
	b := r.Bound
	out := Groups{Groups: []GroupInfo{}, Columns: []HeadColumn{}, Lines: []GroupLine{}}
	for i, g := range b.Groups {
		out.Groups = append(out.Groups, GroupInfo{g.Values[0].Text, brief.GroupLabel(g), g.Across, r.Overlap[i]})
	}
	for i, s := range b.Summaries {
		out.Summaries = append(out.Summaries, SummaryInfo{s.Source.Key, chart.SummaryName(r, i)})
	}
	t := layout{r: r, w: w, out: &out, yield: yield}
	t.cols(0, nil, nil)
	// A wide table has fewer lines: the rest is counted, and can be asked for narrower, or taken out as a file.
	t.most = max(1, min(most, MaxCells/max(1, len(t.at)*len(b.Summaries))))
	if len(b.Groups) > 0 {
		if err := t.lines(0, nil); err != nil {
			return out, err
		}
	}
	t.line(0, "All", nil)
	return out, nil
}

type layout struct {
	r     *result.Result
	w     chart.Writer
	out   *Groups
	most  int
	at    []int // nodes of the columns
	yield func() error
}

// cols adds the columns under a node of across, each group before its subtotal, the total last.
func (t *layout) cols(n int, labels, keys []string) {
	r := t.r
	for _, k := range r.Cols[n].Children {
		label := t.w.Label(r.Bound.Groups[r.Bound.Rows+r.Cols[n].Depth], r.Cols[k].Member)
		t.cols(k, slices.Concat(labels, []string{label}), slices.Concat(keys, []string{r.KeyOf(false, k)}))
	}
	t.at = append(t.at, n)
	t.out.Columns = append(
		t.out.Columns,
		HeadColumn{Labels: append([]string{}, labels...), Keys: append([]string{}, keys...),
			Total: len(r.Cols[n].Children) > 0 || n == 0},
	)
}

func (t *layout) lines(n int, keys []string) error {
	r := t.r
	for _, k := range r.Rows[n].Children {
		if len(t.out.Lines) >= t.most {
			t.out.MoreLines++
			continue
		}
		if err := t.yield(); err != nil {
			return err
		}
		label := t.w.Label(r.Bound.Groups[r.Rows[n].Depth], r.Rows[k].Member)
		inner := slices.Concat(keys, []string{r.KeyOf(true, k)})
		t.line(k, label, inner)
		if err := t.lines(k, inner); err != nil {
			return err
		}
	}
	return nil
}

func (t *layout) line(n int, label string, keys []string) {
	line := GroupLine{
		Label: label,
		Depth: t.r.Rows[n].Depth,
		Keys:  append([]string{}, keys...),
		Inner: t.r.Rows[n].Depth == t.r.Bound.Rows && n > 0,
	}
	for _, c := range t.at {
		cell := t.r.Cell(n, c)
		texts := []string{}
		for s, sum := range t.r.Bound.Summaries {
			texts = append(texts, Shown(t.w, sum, cell.Shown[s]))
		}
		line.Cells = append(line.Cells, texts)
		if cell.Before != nil {
			line.Before = append(line.Before, t.changes(cell))
		}
	}
	t.out.Lines = append(t.out.Lines, line)
}

// Shown writes what a summary shows of a cell.
func Shown(w chart.Writer, s *brief.BoundSummary, v result.Value) string {
	if share(s) {
		return w.Ratio(v)
	}
	return w.Value(s.Kind, v, s.Source.Format)
}

// share says whether a summary is shown as a share.
func share(s *brief.BoundSummary) bool { return strings.HasPrefix(s.Source.Show, "percent") }

// changes are a cell's summaries against the earlier period.
func (t *layout) changes(cell result.Cell) []chart.Change {
	list := []chart.Change{}
	for s, sum := range t.r.Bound.Summaries {
		list = append(list, chart.ChangeOf(t.w, sum.Kind, sum.Source.Format, cell, s))
	}
	return list
}

// GroupPlace is where the rows of a group are among those of all groups, in the order of the table.
type GroupPlace struct {
	Keys  []string `json:"keys"`
	First int      `json:"first"`
	Count int      `json:"count" doc:"How many rows it has"`
}

// Places says where the rows of each innermost group are. Groups without rows have no place.
func Places(r *result.Result, runs []engine.GroupRun) []GroupPlace {
	list := []GroupPlace{}
	for _, run := range runs {
		if run.Count > 0 {
			list = append(list, GroupPlace{Keys: r.Keys(true, run.Node), First: run.First, Count: run.Count})
		}
	}
	return list
}
