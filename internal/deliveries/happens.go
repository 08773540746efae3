package deliveries

import (
	"context"
	"encoding/base64"
	"fmt"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/table"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/mail"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Things that are known besides records.
const (
	begun = "~begun" // it was looked before
	past  = "~past"  // the number is past its line, or the target at risk
)

// maxKnown is how many records a result may have whose coming and going is told.
const maxKnown = 20_000

// state is what a recipient would find now.
type state struct {
	things []string
	number string // of what passes a line, in words
}

// baseline notes what each recipient would find now, so that what happens from now on is told.
func (d *Deliveries) baseline(ctx context.Context, row store.Delivery, t Terms) error {
	list, err := d.recipients(ctx, row, t)
	if err != nil {
		return err
	}
	for _, to := range list {
		v, err := d.viewOf(ctx, to.ID)
		if err != nil {
			return err
		}
		s, err := d.look(ctx, v, row, t)
		if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
			continue // not open to them: nothing is told
		}
		if err != nil {
			return err
		}
		if err := d.store.SetKnown(ctx, row.ID, to.ID, append(s.things, begun)); err != nil {
			return err
		}
	}
	return nil
}

// look finds what is looked for, as a person sees it.
func (d *Deliveries) look(ctx context.Context, v *answers.View, row store.Delivery, t Terms) (state, error) {
	var s state
	asked, _, err := d.asked(ctx, v, row)
	if err != nil {
		return s, err
	}
	if t.When.If == IfComes || t.When.If == IfLeaves {
		b := *asked
		b.Limit, b.Columns, b.Order = nil, nil, nil
		l, err := v.List(ctx, &b)
		if err != nil {
			return s, err
		}
		if l.Len() > maxKnown {
			return s, fault.New(
				fault.TooLarge,
				"",
				"The report has more than %d records, which is too many to tell of each. Narrow it.",
				maxKnown,
			)
		}
		page, err := l.Page(ctx, 0, l.Len())
		if err != nil {
			return s, err
		}
		s.things = slices.Compact(slices.Sorted(slices.Values(page.IDs)))
		return s, nil
	}
	a, err := v.Ask(ctx, asked)
	if err != nil {
		return s, err
	}
	if t.When.If == IfAtRisk {
		s.number, err = atRisk(v, a, &s)
		return s, err
	}
	at := summaryOf(a.Bound, t.When.Summary)
	if at < 0 {
		return s, fault.New(fault.Invalid, "", "The report no longer has the number that is looked at.")
	}
	sum, value := a.Bound.Summaries[at], a.Result.Cell(0, 0).Plain[at]
	line, ok := exact.Parse(t.When.Line)
	if !ok {
		return s, fault.New(fault.Invalid, "", "The line can no longer be read.")
	}
	s.number = table.Shown(a.Writer, sum, value)
	over := value.Set && value.Num.Cmp(line) > 0
	under := value.Set && value.Num.Cmp(line) < 0
	if (t.When.If == IfOver && over) || (t.When.If == IfUnder && under) {
		s.things = []string{past}
	}
	return s, nil
}

// atRisk says whether a target would be missed if things went on as they did in the period so far.
func atRisk(v *answers.View, a *answers.Answer, s *state) (string, error) {
	p := a.Drawing.Progress
	if p == nil || len(a.Result.Span) == 0 || a.Result.Span[0].Now == nil || !a.Result.Span[0].Now.Closed() {
		return "", fault.New(fault.Invalid, "", "The report no longer has a target over a period.")
	}
	span := a.Result.Span[0].Now
	if v.Day < span.From || v.Day > span.To || p.Missing == "" {
		return "", nil // it has not begun, is over, or is reached
	}
	// The share reached against the share of days gone, today's among them: both are exact.
	gone := exact.Frac(int64(v.Day-span.From+1), int64(span.To-span.From+1))
	if a.Result.Progress == nil || !a.Result.Progress.Share.Set || a.Result.Progress.Share.Num.Cmp(gone) >= 0 {
		return "", nil
	}
	s.things = []string{past}
	return p.Share, nil
}

// happened tells each recipient what happened since it was looked last; it says whether there was something.
func (d *Deliveries) happened(ctx context.Context, row store.Delivery, t Terms) (told bool, err error) {
	list, err := d.recipients(ctx, row, t)
	if err != nil {
		return false, err
	}
	for _, to := range list {
		one, err := d.happenedFor(ctx, row, t, to)
		if err != nil {
			return told, err
		}
		told = told || one
	}
	return told, nil
}

func (d *Deliveries) happenedFor(ctx context.Context, row store.Delivery, t Terms, to people.Account) (bool, error) {
	v, err := d.viewOf(ctx, to.ID)
	if err != nil {
		return false, err
	}
	now, err := d.look(ctx, v, row, t)
	if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
		return false, nil // not open to them by now
	}
	if err != nil {
		return false, err
	}
	known, err := d.store.Known(ctx, row.ID, to.ID)
	if err != nil {
		return false, err
	}
	keep := func(ctx context.Context) error {
		return d.store.SetKnown(ctx, row.ID, to.ID, append(slices.Clone(now.things), begun))
	}
	if !known[begun] {
		return false, keep(ctx) // of one who came to it later: what is there is not news
	}
	delete(known, begun)
	var came, went []string
	for _, thing := range now.things {
		if !known[thing] {
			came = append(came, thing)
		}
		delete(known, thing)
	}
	for thing := range known {
		went = append(went, thing)
	}
	slices.Sort(went)
	if len(came) == 0 && len(went) == 0 {
		return false, nil
	}
	e, err := d.said(ctx, v, row, t, now, came, went)
	if err != nil {
		return false, err
	}
	if e == nil {
		return false, keep(ctx)
	}
	return true, d.to(ctx, row, t, to, *e, keep)
}

// said says what happened; nil where it is nothing that is told.
func (d *Deliveries) said(ctx context.Context, v *answers.View,
	row store.Delivery,
	t Terms,
	now state,
	came, went []string,
) (*event, error) {
	e := &event{occasion: "on:" + unix(d.store.Now())}
	switch t.When.If {
	case IfOver, IfUnder, IfAtRisk:
		if len(came) == 0 {
			return nil, nil // it is back: it is told when it passes again
		}
		number := "its number"
		if _, b, err := d.item(ctx, v, row.Kind, row.Item); err == nil {
			number = d.number(v, b, t.When.Summary)
		}
		e.said = brief.Capital(number) + " is " + now.number + ", " + t.When.If + " " + v.Figures.Form.Number(t.When.Line)
		if t.When.If == IfAtRisk {
			e.said = "The target is at risk: " + now.number + " of it is reached"
		}
		return e, nil
	case IfComes:
		return d.ofRecords(ctx, v, row, e, came, "came into it", true)
	case IfLeaves:
		return d.ofRecords(ctx, v, row, e, went, "left it", false)
	}
	return nil, nil
}

// named is how many records are called by name in what is told.
const named = 3

func (d *Deliveries) ofRecords(ctx context.Context, v *answers.View,
	row store.Delivery,
	e *event,
	ids []string,
	what string,
	there bool,
) (*event, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	_, b, err := d.item(ctx, v, row.Kind, row.Item)
	if err != nil {
		return nil, err
	}
	bound, err := v.Bind(b)
	if err != nil {
		return nil, err
	}
	typ := bound.Parts[0].Start()
	var names []string
	for _, id := range ids[:min(len(ids), named)] {
		name := v.Names()(typ.Key, id)
		if name == "" {
			name = typ.One + " " + id
		}
		names = append(names, name)
	}
	text := strings.Join(names, ", ")
	if more := len(ids) - len(names); more > 0 {
		text += fmt.Sprintf(" and %d more", more)
	}
	e.said = text + " " + what
	if there {
		e.only = onlyThese(typ, ids)
	}
	return e, nil
}

// inlined is the page of a letter with its pictures in it, as a browser shows it without the mail.
func inlined(l mail.Letter) string {
	page := l.HTML
	for _, p := range l.Pictures {
		page = strings.ReplaceAll(
			page,
			`"cid:`+p.Name+`"`,
			`"data:`+p.Type+`;base64,`+base64.StdEncoding.EncodeToString(p.Data)+`"`,
		)
	}
	return page
}
