package desk

import (
	"context"
	"encoding/json"
	"strconv"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
)

// Extract is what is taken out of the application: a table, and what it is about.
type Extract struct {
	engine.Lines
	Title string
	About [][2]string // what is said of it, in words: the sentence, its conditions, who, when
}

// Export takes a brief's records, summary, totals or outline out. report is the kept report that it is a reading of, 0
// for none: readers take out what was kept, and what an owner does not let out is refused.
func (d *Desk) Export(ctx context.Context, who Person, report int64, b *brief.Brief, view string) (*Extract, error) {
	title, err := d.mayTake(ctx, who, report, b)
	if err != nil {
		return nil, err
	}
	out := &Extract{Title: title}
	var said brief.Sentence
	var records int64
	switch view {
	case "records":
		l, err := d.List(ctx, who, b)
		if err != nil {
			return nil, err
		}
		out.Lines, records, said = l.Named(), int64(l.Len()), l.Sentence
	case "summary", "totals", "outline":
		a, err := d.Ask(ctx, who, b)
		if err != nil {
			return nil, err
		}
		records, said = a.Result.Records, a.Sentence
		switch view {
		case "totals":
			out.Lines = a.Result.Totals()
		case "summary":
			out.Lines = a.Result.Summary()
		default:
			var sums []string
			for i := range a.Bound.Summaries {
				sums = append(sums, chart.SummaryName(a.Result, i))
			}
			out.Lines = a.Result.Outline(func(g int, m engine.Member) string { return chart.Label(a.Bound.Groups[g], m, a.Writer.Cal) }, sums)
		}
		if title == "" {
			out.Title = a.Drawing.Title
		}
	default:
		return nil, fail(Invalid, "/view", "a view is records, summary, outline or totals, not %q", view)
	}
	out.About = [][2]string{{"Report", out.Title}, {"Sentence", said.String()}}
	for _, c := range said {
		if c.Key == "whose" || c.Key == "period" || c.Key == "filter" {
			out.About = append(out.About, [2]string{map[string]string{"whose": "Whose", "period": "Period", "filter": "Condition"}[c.Key], c.Text})
		}
	}
	out.About = append(out.About, [2]string{"Records", brief.Thousands(strconv.FormatInt(records, 10))},
		[2]string{"Taken by", who.Name}, [2]string{"On", brief.DayWords(d.today())})
	return out, nil
}

// mayTake refuses to let out what a report's owner keeps in, and gives the report's title.
func (d *Desk) mayTake(ctx context.Context, who Person, report int64, b *brief.Brief) (string, error) {
	text, err := json.Marshal(b)
	if err != nil {
		return "", err
	}
	rows, err := d.store.Reports(ctx, who.viewer())
	if err != nil {
		return "", err
	}
	in, err := d.folders(ctx, who)
	if err != nil {
		return "", err
	}
	title, known := "", false
	for _, row := range rows {
		if row.ID != report && row.Brief != string(text) {
			continue
		}
		r, err := d.openReport(who, row, in)
		if err != nil {
			return "", err
		}
		if r.NoDownload && !r.MayChange {
			return "", fail(Forbidden, "", "%s does not let “%s” be downloaded. It can be read here and printed.", r.OwnerName, r.Title)
		}
		if r.ID == report {
			title, known = r.Title, true
		}
	}
	if report != 0 && !known {
		return "", fail(NotFound, "/report", "There is no such report, or you may not open it.")
	}
	if report == 0 && !who.MayCompose() {
		return "", fail(Forbidden, "/report", "Readers download from a saved report. Open one first.")
	}
	return title, nil
}
