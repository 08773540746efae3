package boards

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"strings"
	"unicode/utf8"

	"golang.org/x/sync/errgroup"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/memo"
	"uzzel/internal/naming"
	"uzzel/internal/store"
)

// MaxWords is how long the words of a panel are at most, in characters.
const MaxWords = 2000

// checkPanel says what is wrong with a panel; own says whether it stands on a dashboard that nobody but its owner opens.
func checkPanel(v *answers.View, p *store.Panel, i int, own bool) error {
	o, at := board.Options{}, fmt.Sprintf("/panels/%d", i)
	if p.Options != "" {
		if err := json.Unmarshal([]byte(p.Options), &o); err != nil {
			return fault.New(fault.Invalid, at, "A panel’s options cannot be read.")
		}
	}
	if err := o.Check(v.Snap.Schema); err != nil {
		return fault.New(fault.Invalid, at, "%s.", brief.Capital(err.Error()))
	}
	long := func(text string, most int) bool { return utf8.RuneCountInString(text) > most }
	switch {
	case long(o.Heading, naming.MaxTitle) || long(o.Below, naming.MaxTitle) || long(o.Source, naming.MaxTitle):
		return fault.New(fault.Invalid, at, "A heading has %d characters at most.", naming.MaxTitle)
	case long(o.Words, MaxWords):
		return fault.New(fault.Invalid, at, "A panel’s words are %d characters at most.", MaxWords)
	case long(o.Style, naming.MaxTitle):
		return fault.New(fault.Invalid, at, "A style’s key has %d characters at most.", naming.MaxTitle)
	case !linkable(o.Link):
		return fault.New(
			fault.Invalid,
			at,
			"A panel leads to a dashboard or report here, such as /dashboards/3, or to an address that begins with https://.",
		)
	case p.Report == 0 && o.Words == "" && o.Kept == 0:
		return fault.New(fault.Invalid, at, "A panel has a report, or words of its own.")
	case o.Kept != 0 && (p.Report != 0 || o.Words != ""):
		return fault.New(fault.Invalid, at, "A panel shows a kept result alone.")
	case o.Kept != 0 && !own:
		return fault.New(
			fault.Invalid,
			at,
			"What you keep is yours alone, so it stands on dashboards in your private folder alone.",
		)
	}
	return nil
}

// linkable says whether a panel's heading may lead somewhere: to a board or report here, or to a secure address.
func linkable(link string) bool {
	if link == "" {
		return true
	}
	if len(link) > 500 || strings.ContainsAny(link, " \t\r\n\"<>\\") {
		return false
	}
	u, err := url.Parse(link)
	if err != nil {
		return false
	}
	if u.Scheme == "" && u.Host == "" {
		return strings.HasPrefix(u.Path, "/dashboards/") || strings.HasPrefix(u.Path, "/reports/")
	}
	return u.Scheme == "https" && u.Host != ""
}

func checkFilters(v *answers.View, text string) error {
	if text == "" {
		return nil
	}
	var f board.Filters
	if err := json.Unmarshal([]byte(text), &f); err != nil {
		return fault.New(fault.Invalid, "/filters", "The dashboard’s filters cannot be read.")
	}
	_, err := f.Read(v.Snap.Schema)
	return err
}

// PanelAsk is a panel that is to be answered: a report as it is placed on a dashboard, or on the page of a record.
type PanelAsk struct {
	Report  int64
	Options board.Options
	// Type and ID are those of the record on whose page it is; "" on a dashboard.
	Type, ID string
}

// PanelShown is an answered panel with the report that it shows.
type PanelShown struct {
	Report library.Report
	Words  string // what of a record it shows; "" on a dashboard
	*answers.Panel
}

// panelsAtOnce is how many panels of one request are worked on at a time; how many questions are is up to the gate.
const panelsAtOnce = 16

// Panels answers panels under a dashboard's filters, all from one view, and hands each on as soon as it is ready: done
// is called once for each with its place in the list, by several at a time. It ends early where ctx does.
func (bs *Boards) Panels(
	ctx context.Context,
	v *answers.View,
	f board.Filters,
	list []PanelAsk,
	done func(i int, p PanelShown, err error),
) {
	var all errgroup.Group
	all.SetLimit(panelsAtOnce)
	for i, ask := range list {
		if ctx.Err() != nil {
			break
		}
		all.Go(func() error {
			p, err := bs.panel(ctx, v, f, ask)
			if ctx.Err() == nil {
				done(i, p, err)
			}
			return nil
		})
	}
	_ = all.Wait()
}

// panel answers one panel. What goes badly wrong with it is its own error, so that the others are answered all the
// same.
func (bs *Boards) panel(ctx context.Context, v *answers.View, f board.Filters, ask PanelAsk) (p PanelShown, err error) {
	defer func() {
		if r := recover(); r != nil {
			err = memo.Recovered(r)
		}
	}()
	if p.Report, err = bs.lib.Report(ctx, v, ask.Report); err != nil {
		return p, err
	}
	shown := p.Report.Brief.Brief()
	if ask.Type != "" {
		on, err := bs.onPage(ctx, v, ask, p.Report)
		if err != nil {
			return p, err
		}
		p.Words = on.Words
		if shown, err = on.of(v, v.Snap.Schema.Type(ask.Type), ask.ID); err != nil {
			return p, err
		}
	}
	p.Panel, err = v.Panel(ctx, shown, p.Report.Asked, ask.Options, f)
	return p, err
}

// onPage is the panel on the page of a record that is asked for, of a report that is open.
func (bs *Boards) onPage(ctx context.Context, v *answers.View, ask PanelAsk, r library.Report) (PagePanel, error) {
	missing := fault.New(fault.NotFound, "", "The report does not stand on this page.")
	t := v.Snap.Schema.Type(ask.Type)
	if t == nil {
		return PagePanel{}, missing
	}
	rows, err := bs.store.PagePanels(ctx, v.Who.Viewer(), t.Key)
	if err != nil {
		return PagePanel{}, err
	}
	for _, row := range rows {
		if row.Report != ask.Report {
			continue
		}
		if p, ok := pagePanel(v, t, r, row); ok {
			return p, nil
		}
	}
	return PagePanel{}, missing
}
