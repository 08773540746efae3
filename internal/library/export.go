package library

import (
	"context"
	"encoding/json"
	"errors"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
)

// Export takes a brief's records, summary, totals or outline out. report is the kept report that it is a reading of, 0
// for none. Readers take out what was kept, narrowed or for other dates and people (brief.Within); what an owner does
// not let out is refused. Headers are as they are shown; with keys, as uzzel run writes them.
func (lib *Library) Export(
	ctx context.Context,
	v *answers.View,
	report int64,
	b *brief.Brief,
	view string,
	keys bool,
) (*answers.Extract, error) {
	title, asked, err := lib.mayTake(ctx, v, report, b)
	if err != nil {
		return nil, err
	}
	return v.Extract(ctx, title, b, asked, view, keys)
}

// MayTake refuses to let out what a report's owner keeps in, and gives what is asked, as Export takes it out.
func (lib *Library) MayTake(ctx context.Context, v *answers.View, report int64, b *brief.Brief) (*brief.Brief, error) {
	_, asked, err := lib.mayTake(ctx, v, report, b)
	return asked, err
}

// mayTake refuses to let out what a report's owner keeps in, and gives the report's title and what is asked: the
// reading with the conditions that the report's owner fixed.
func (lib *Library) mayTake(
	ctx context.Context,
	v *answers.View,
	report int64,
	b *brief.Brief,
) (title string, asked *brief.Brief, err error) {
	if report == 0 {
		if !v.Who.MayCompose() {
			return "", nil, fault.New(fault.Forbidden, "/report", "Readers download from a saved report. Open one first.")
		}
		return "", b, lib.notKeptIn(ctx, v, b)
	}
	r, err := lib.Report(ctx, v, report)
	var gone *fault.Error
	if errors.As(err, &gone) && gone.Reason == fault.NotFound {
		gone.Pointer = "/report"
	}
	switch {
	case err != nil:
		return "", nil, err
	case r.MayChange && sameQuestion(b, r.whole):
		return r.Title, b, nil
	case r.MayChange:
		return r.Title, b, lib.notKeptIn(ctx, v, b)
	case r.NoDownload:
		return "", nil, fault.New(
			fault.Forbidden,
			"",
			"%s does not let “%s” be downloaded. It can be read here and printed.",
			r.OwnerName,
			r.Title,
		)
	}
	shown := r.Shown
	if bound, err := v.Bind(r.whole); err == nil && len(bound.Parts) == 1 && len(r.whole.Columns) == 0 {
		shown = append(answers.DefaultColumns(bound.Parts[0].Start()), shown...)
	}
	if bad := brief.Within(b, r.Brief.Brief(), shown); bad != nil && !v.Who.MayCompose() {
		var problems brief.Problems
		errors.As(bad, &problems)
		return "", nil, fault.New(
			fault.Forbidden,
			problems[0].Pointer,
			"This is no longer what “%s” shows: %s. Readers download a report as it is kept, for whichever people and dates, and narrowed further; go back to as it is saved.",
			r.Title,
			problems[0].Message,
		)
	} else if bad != nil {
		if err := lib.notKeptIn(ctx, v, b); err != nil {
			return "", nil, err
		}
	}
	if asked, err = lib.Reading(ctx, v, report, b); err != nil {
		return "", nil, err
	}
	title = r.Title
	if !sameQuestion(b, r.Brief.Brief()) {
		title += " (changed for this reading)"
	}
	return title, asked, nil
}

// notKeptIn refuses the very question of a report that its owner does not let out.
func (lib *Library) notKeptIn(ctx context.Context, v *answers.View, b *brief.Brief) error {
	list, err := lib.Reports(ctx, v)
	for _, r := range list {
		if r.NoDownload && !r.MayChange && sameQuestion(b, r.Brief.Brief()) {
			return fault.New(
				fault.Forbidden,
				"",
				"%s does not let “%s” be downloaded. It can be read here and printed.",
				r.OwnerName,
				r.Title,
			)
		}
	}
	return err
}

// sameQuestion says whether two briefs differ in their looks at most.
func sameQuestion(a, b *brief.Brief) bool {
	bare := func(b brief.Brief) string {
		b.Chart, b.TotalsOnly = nil, false
		text, err := json.Marshal(&b)
		if err != nil {
			return err.Error()
		}
		return string(text)
	}
	return bare(*a) == bare(*b)
}
