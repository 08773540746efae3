package desk

import (
	"encoding/json"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/internal/store"
)

// PanelOptions say how a panel differs from its report as it was kept. A panel without a report has words of its own.
type PanelOptions struct {
	Heading string `json:"heading,omitempty"`
	Below   string `json:"below,omitempty" doc:"A line below the heading"`
	Source  string `json:"source,omitempty" doc:"A note on the source, below it"`
	List    bool   `json:"list,omitempty" doc:"Whether it is a list of the report's records, whatever it groups them by"`
	Kind    string `json:"kind,omitempty" doc:"Another kind of chart than the report's"`
	Style   string `json:"style,omitempty" doc:"The key of a kept style, in place of the report's looks"`
	Items   int    `json:"items,omitempty" doc:"How many groups, or records, are shown: the first; 0 for as many as the report has"`
	Order   string `json:"order,omitempty" doc:"label, largest or smallest; as the report orders its groups where it is empty"`
	// Period is as a brief has it. A panel with one of its own does not follow the board's.
	Period  json.RawMessage `json:"period,omitempty" doc:"A period of its own, in place of the report's and the board's"`
	Link    string          `json:"link,omitempty" doc:"Where the heading leads, in place of the report: /dashboards/3, /reports/4, https://…"`
	Words   string          `json:"words,omitempty" doc:"What a panel without a report says"`
	Section bool            `json:"section,omitempty" doc:"Whether the words are a heading over what follows"`
}

// FieldFilter narrows every panel whose records have a field, or are linked to the record that has it.
type FieldFilter struct {
	Type   string   `json:"type"`
	Field  string   `json:"field"`
	Values []string `json:"values"`
}

// BoardFilters narrow the panels of a board. Period and Whose are as a brief has them.
type BoardFilters struct {
	Period json.RawMessage `json:"period,omitempty"`
	Whose  json.RawMessage `json:"whose,omitempty"`
	Fields []FieldFilter   `json:"fields,omitempty"`
}

// PanelOrders are the orders that a panel can give its groups.
var PanelOrders = []string{"label", "largest", "smallest"}

// MaxItems is how many groups or records a panel can be held to.
const MaxItems = 400

// MaxWords is how long the words of a panel are at most, in characters.
const MaxWords = 2000

func checkPanel(p *store.Panel, i int) error {
	var o PanelOptions
	at := fmt.Sprintf("/panels/%d", i)
	if p.Options != "" {
		if err := json.Unmarshal([]byte(p.Options), &o); err != nil {
			return fail(Invalid, at, "A panel’s options cannot be read.")
		}
	}
	switch {
	case utf8.RuneCountInString(o.Heading) > MaxTitle || utf8.RuneCountInString(o.Below) > MaxTitle || utf8.RuneCountInString(o.Source) > MaxTitle:
		return fail(Invalid, at, "A heading has %d characters at most.", MaxTitle)
	case utf8.RuneCountInString(o.Words) > MaxWords:
		return fail(Invalid, at, "A panel’s words are %d characters at most.", MaxWords)
	case o.Kind != "" && !slices.Contains(brief.ChartKinds, o.Kind):
		return fail(Invalid, at, "There is no kind of chart “%s”.", o.Kind)
	case utf8.RuneCountInString(o.Style) > MaxTitle:
		return fail(Invalid, at, "A style’s key has %d characters at most.", MaxTitle)
	case o.Items < 0 || o.Items > MaxItems:
		return fail(Invalid, at, "A panel shows 1 to %d groups or records.", MaxItems)
	case o.Order != "" && !slices.Contains(PanelOrders, o.Order):
		return fail(Invalid, at, "A panel’s groups stand by label, the largest or the smallest first.")
	case !linkable(o.Link):
		return fail(Invalid, at, "A panel leads to a dashboard or report here, such as /dashboards/3, or to an address that begins with https://.")
	case p.Report == 0 && o.Words == "":
		return fail(Invalid, at, "A panel has a report, or words of its own.")
	}
	if len(o.Period) > 0 {
		if _, err := brief.DecodePeriod(o.Period); err != nil {
			return fail(Invalid, at, "A panel’s period cannot be read.")
		}
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

func (d *Desk) checkFilters(text string) error {
	if text == "" {
		return nil
	}
	var f BoardFilters
	if err := json.Unmarshal([]byte(text), &f); err != nil {
		return fail(Invalid, "/filters", "The dashboard’s filters cannot be read.")
	}
	_, err := d.filtering(f)
	return err
}

// filtering checks filters, and gives their period and whose as a brief has them.
func (d *Desk) filtering(f BoardFilters) (*brief.Brief, error) {
	s := d.Snapshot().Schema
	for i, x := range f.Fields {
		t := s.Type(x.Type)
		if t == nil || t.Field(x.Field) == nil || len(x.Values) == 0 {
			return nil, fail(Invalid, fmt.Sprintf("/filters/fields/%d", i), "A filter names a record type, a field of it and values.")
		}
	}
	probe := `{"version":1,"start":"x"`
	if len(f.Period) > 0 {
		probe += `,"period":{"field":"x","within":` + string(f.Period) + `}`
	}
	if len(f.Whose) > 0 {
		probe += `,"whose":` + string(f.Whose)
	}
	b, err := brief.Decode([]byte(probe + "}"))
	if err == nil && b.Period != nil {
		err = b.Period.Within.Check()
	}
	if err != nil {
		return nil, fail(Invalid, "/filters", "%s", err)
	}
	return b, nil
}
