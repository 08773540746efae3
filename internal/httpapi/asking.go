package httpapi

import (
	"context"
	"encoding/json"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/table"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/lookup"
)

// ListBody is a page of a list of records.
type ListBody struct {
	Type     string             `json:"type"`
	Total    int                `json:"total"`
	From     int                `json:"from"`
	Columns  []table.ListColumn `json:"columns"`
	Rows     []table.Row        `json:"rows"`
	Sentence []brief.Clause     `json:"sentence"`
	Unseen   string             `json:"unseen,omitempty" doc:"What one does not see of what it reads, in words"`
	Unrated  string             `json:"unrated,omitempty" doc:"What is left out for want of an exchange rate, in words"`
}

type valuesWithin struct {
	Body struct {
		Brief  Brief  `json:"brief"`
		Path   string `json:"path"`
		Search string `json:"search"`
	}
}

// GroupedBody is a page of the records under groups.
type GroupedBody struct {
	ListBody
	Places []table.GroupPlace `json:"places" doc:"Where the records of each group are; with the first page alone"`
}

// AnswerBody is the answer to a brief.
type AnswerBody struct {
	Sentence  []brief.Clause      `json:"sentence"`
	Text      string              `json:"text" doc:"The sentence as plain text"`
	Title     string              `json:"title" doc:"A name for what the report shows"`
	Groups    []table.GroupInfo   `json:"groups"`
	Summaries []table.SummaryInfo `json:"summaries"`
	Columns   []table.HeadColumn  `json:"columns"`
	Lines     []table.GroupLine   `json:"lines"`
	MoreLines int                 `json:"moreLines" doc:"How many lines there are besides"`
	Records   int64               `json:"records" doc:"How many records are left"`
	Of        int64               `json:"of" doc:"How many records there are"`
	Unseen    string              `json:"unseen,omitempty" doc:"What one does not see of what it reads, in words"`
	Unrated   string              `json:"unrated,omitempty" doc:"What is left out for want of an exchange rate, in words"`
	Compared  string              `json:"compared,omitempty" doc:"The earlier period that it is compared with, in words"`
	Drawing   *chart.Drawing      `json:"drawing"`
	Kinds     []chart.Offer       `json:"kinds" doc:"Kinds of chart, those that suit best first"`
}

type briefBody struct {
	Body struct {
		Brief Brief `json:"brief"`
		Lines int   `json:"lines,omitempty" doc:"How many lines of groups at most; 500 by default"`
	}
}

// mostSought is how long what is looked for in a list is at most.
const mostSought = 400

type listBody struct {
	Body struct {
		Brief  Brief         `json:"brief"`
		Search string        `json:"search,omitempty" doc:"Of a list of one record type: words that are in its texts besides"`
		From   int           `json:"from,omitempty"`
		Count  int           `json:"count,omitempty" doc:"200 by default, 1,000 at most"`
		Part   int           `json:"part,omitempty" doc:"Behind: which of several parts' records"`
		Marks  []result.Mark `json:"marks,omitempty" doc:"Behind: which marks' records"`
	}
}

// ValueBody is a value that a field has.
type ValueBody struct {
	Value string `json:"value"`
	Label string `json:"label"`
	Count int64  `json:"count"`
}

// BinBody is one bar of a spread.
type BinBody struct {
	From  string `json:"from" doc:"Empty for no lower end"`
	To    string `json:"to" doc:"Empty for no upper end"`
	Count int64  `json:"count"`
}

type periodIn struct {
	Body struct {
		Within json.RawMessage `json:"within" doc:"A period as a brief has it"`
	}
}

// PeriodBody is the days of a period, today.
type PeriodBody struct {
	From  string `json:"from" doc:"First day, empty for none"`
	To    string `json:"to" doc:"Last day, empty for none"`
	Dates string `json:"dates" doc:"In words"`
	Today string `json:"today" doc:"in, before or after: where today is"`
	Note  string `json:"note" doc:"The same in words"`
}

func periodBody(s period.Span, today int32) PeriodBody {
	b := PeriodBody{Dates: brief.SpanWords(s), Today: "in", Note: "Today is in it."}
	if s.HasFrom {
		b.From = period.FormatDay(s.From)
	}
	if s.HasTo {
		b.To = period.FormatDay(s.To)
	}
	switch {
	case s.HasFrom && today < s.From:
		b.Today, b.Note = "before", "Today is not in it: it begins after today."
	case s.HasTo && today > s.To:
		b.Today, b.Note = "after", "Today is not in it: it ends before today."
	case s.HasTo && today == s.To:
		b.Note = "Today is in it, as its last day."
	}
	return b
}

type valuesIn struct {
	Start  string `query:"start" required:"true"`
	Path   string `query:"path" required:"true"`
	Search string `query:"search"`
}

func (a *api) asking(g huma.API) {
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/answer", "answer", "Answer a brief")),
		func(ctx context.Context, in *briefBody) (*out[AnswerBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			ans, err := view(ctx).Ask(ctx, b)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := &out[AnswerBody]{}
			err = view(ctx).Write(ctx, func(yield func() error) (err error) {
				body.Body, err = answerBody(ans, in.Body.Lines, yield)
				return err
			})
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return body, nil
		},
	)
	list := func(get func(ctx context.Context, in *listBody, b *brief.Brief) (*answers.List, error)) func(ctx context.Context, in *listBody) (*out[ListBody], error) {
		return func(ctx context.Context, in *listBody) (*out[ListBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			l, err := get(ctx, in, b)
			return a.page(ctx, l, err, in.Body.From, in.Body.Count)
		}
	}
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/list", "list", "A page of a brief's records")),
		list(func(ctx context.Context, in *listBody, b *brief.Brief) (*answers.List, error) {
			v := view(ctx)
			if len(in.Body.Search) > mostSought {
				return nil, fault.New(fault.Invalid, "/search", "Up to %d letters are looked for.", mostSought)
			}
			if t := v.Snap.Schema.Type(b.Start); t != nil {
				if sought := brief.Holding(v.Snap.Schema, t, in.Body.Search); sought != nil {
					narrowed := *b
					narrowed.Filter = b.Filter.And(*sought)
					b = &narrowed
				}
			}
			return v.List(ctx, b)
		}),
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/behind", "behind", "The records behind marks")),
		list(func(ctx context.Context, in *listBody, b *brief.Brief) (*answers.List, error) {
			return view(ctx).Behind(ctx, b, in.Body.Part, in.Body.Marks)
		}),
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/behind/report", "behind-report", "What is behind marks as a report of its own")),
		func(ctx context.Context, in *listBody) (*out[Brief], error) {
			asked, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			b, err := view(ctx).AsReport(ctx, in.Body.Brief.Brief, asked, in.Body.Part, in.Body.Marks)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[Brief]{public(brief.ForOwner(b), in.Body.Brief.Reading)}, nil
		},
	)
	huma.Register(
		g,
		lenient(
			op(
				http.MethodPost,
				"/api/grouped",
				"grouped",
				"A page of the records under a brief's groups, one group after the other",
			),
		),
		func(ctx context.Context, in *listBody) (*out[GroupedBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			grouped, err := view(ctx).Grouped(ctx, b)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			page, err := a.page(ctx, grouped.List, nil, in.Body.From, in.Body.Count)
			if err != nil {
				return nil, err
			}
			body := GroupedBody{ListBody: page.Body, Places: []table.GroupPlace{}}
			if in.Body.From <= 0 {
				body.Places = table.Places(grouped.Result, grouped.Runs)
			}
			return &out[GroupedBody]{body}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/spread", "spread", "How the values of a number are spread"),
		func(ctx context.Context, in *struct {
			Start string `query:"start" required:"true"`
			Path  string `query:"path" required:"true"`
		}) (*out[[]BinBody], error) {
			bins, err := view(ctx).Spread(ctx, in.Start, in.Path)
			list := []BinBody{}
			for _, b := range bins {
				list = append(list, BinBody(b))
			}
			return &out[[]BinBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/period", "period", "What a period comes to today")),
		func(ctx context.Context, in *periodIn) (*out[PeriodBody], error) {
			within, err := brief.DecodePeriod(in.Body.Within)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			span, err := view(ctx).Period(within.Period)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[PeriodBody]{periodBody(span, view(ctx).Day)}, nil
		},
	)
	huma.Register(
		g,
		lenient(
			op(
				http.MethodPost,
				"/api/values/within",
				"values-within",
				"The values that a field has, and in how many records of a report",
			),
		),
		func(ctx context.Context, in *valuesWithin) (*out[[]ValueBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			found, err := lookup.ValuesWithin(ctx, view(ctx), b, in.Body.Path, in.Body.Search)
			list := []ValueBody{}
			for _, v := range found {
				list = append(list, ValueBody(v))
			}
			return &out[[]ValueBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/values", "values", "The values that a field has"),
		func(ctx context.Context, in *valuesIn) (*out[[]ValueBody], error) {
			found, err := lookup.Values(ctx, view(ctx), in.Start, in.Path, in.Search)
			list := []ValueBody{}
			for _, v := range found {
				list = append(list, ValueBody(v))
			}
			return &out[[]ValueBody]{list}, a.fail(ctx, err)
		},
	)
}

// page answers with a page of a list, or with why there is none.
func (a *api) page(ctx context.Context, l *answers.List, err error, from, count int) (*out[ListBody], error) {
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	body, err := listPage(ctx, l, from, count)
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	return &out[ListBody]{*body}, nil
}

// listPage writes a page of a list down: 200 records where count is 0.
func listPage(ctx context.Context, l *answers.List, from, count int) (*ListBody, error) {
	if count <= 0 {
		count = 200
	}
	from = max(from, 0)
	p, err := l.Page(ctx, from, from+min(count, MaxPage))
	if err != nil {
		return nil, err
	}
	return &ListBody{
		Type:     l.Bound.Parts[0].Start().Key,
		Total:    l.Len(),
		From:     from,
		Columns:  table.Columns(l.Records, l.Bound.Brief),
		Rows:     table.Rows(l.Columns, l.Writer, l.Bound.Brief, p),
		Sentence: l.Sentence,
		Unseen:   l.Unseen,
		Unrated:  l.Unrated,
	}, nil
}

// Limits of one answer: rows of a page, lines and cells of a table.
const (
	MaxPage  = 1000
	MaxLines = 20_000
)

// answerBody writes an answer down, with at most so many lines. It yields before each.
func answerBody(ans *answers.Answer, most int, yield func() error) (AnswerBody, error) {
	r := ans.Result
	body := AnswerBody{
		Sentence: ans.Sentence,
		Text:     ans.Sentence.String(),
		Records:  r.Records,
		Of:       r.Of,
		Drawing:  ans.Drawing,
		Unseen:   ans.Unseen,
		Unrated:  ans.Unrated,
		Title:    ans.Drawing.Title,
		Kinds:    chart.Offers(ans.Bound),
	}
	for _, span := range r.Span {
		if span.Before != nil {
			body.Compared = brief.SpanWords(*span.Before)
			break
		}
	}
	if most <= 0 {
		most = 500
	}
	t, err := table.OfGroups(r, ans.Writer, min(most, MaxLines), yield)
	body.Groups, body.Summaries, body.Columns, body.Lines, body.MoreLines = t.Groups, t.Summaries, t.Columns, t.Lines, t.MoreLines
	return body, err
}
