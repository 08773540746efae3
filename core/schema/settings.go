package schema

import "encoding/json"

// Stage is one stage of a pipeline; its place in Settings.Stages is its order.
type Stage struct {
	Name       string  `json:"name"`
	Pipeline   string  `json:"pipeline,omitempty"`
	Status     string  `json:"status"`
	Likelihood float64 `json:"likelihood"`
}

// Settings is the organisation's part of the data: settings.json of docs/brief.md, "Running one without the interface".
type Settings struct {
	Timezone    string `json:"timezone"`
	WeekStart   string `json:"weekStart"`
	FiscalMonth int    `json:"fiscalMonth"`
	Currency    string `json:"currency"`
	// Currencies are the others that amounts may be in, in their order; RatesHold is for how many days a rate holds at
	// most, 0 for DefaultRatesHold.
	Currencies []string            `json:"currencies,omitempty"`
	RatesHold  int                 `json:"ratesHold,omitempty"`
	Stages     []Stage             `json:"stages"`
	Choices    map[string][]string `json:"choices"`
	Ordered    []string            `json:"ordered,omitempty"`
	Types      map[string]Addition `json:"types,omitempty"`
	// Limits say who sees and who changes a field, by "type.field".
	Limits map[string]Limit `json:"limits,omitempty"`
	// Rail are the record types in the order in which they are offered; those that it leaves out come after.
	Rail []string `json:"rail,omitempty"`
}

// Addition is a record type that settings add, or fields added to one that there is. Label and One rename one that there is.
type Addition struct {
	Label  string                   `json:"label,omitempty"`
	One    string                   `json:"one,omitempty"`
	Order  int                      `json:"order,omitempty"`  // among added types; those of one order by key
	Icon   string                   `json:"icon,omitempty"`   // one of Icons
	Stages []Stage                  `json:"stages,omitempty"` // of an added type
	Fields map[string]AdditionField `json:"fields"`
}

// Icons are the small drawings that a record type can be shown with.
var Icons = []string{
	"anchor", "boat", "berth", "buoy", "crane", "crate", "tag", "tool", "leaf", "house", "people", "paper", "star", "pin",
	"clock", "coins",
}

// AdditionField is one added field: what Field has besides what the program keeps itself.
type AdditionField struct {
	Label string `json:"label,omitempty"`
	Kind  Kind   `json:"kind"`
	To    string `json:"to,omitempty"`
	Back  string `json:"back,omitempty"`  // what a link is called from the other side; "" for the label of its type
	Order int    `json:"order,omitempty"` // among added fields of its type; those of one order by key
	// Phrase and what follows are those of Field.
	Phrase      string `json:"phrase,omitempty"`
	Grouped     string `json:"grouped,omitempty"`
	Description string `json:"description,omitempty"`
	Unit        string `json:"unit,omitempty"`
	Required    bool   `json:"required,omitempty"`
	Unique      bool   `json:"unique,omitempty"`
	Format      string `json:"format,omitempty"`
	Least       string `json:"least,omitempty"`
	Most        string `json:"most,omitempty"`
	Default     string `json:"default,omitempty"`
	Formula     string `json:"formula,omitempty"`
	Yes         string `json:"yes,omitempty"`
	No          string `json:"no,omitempty"`
	Retired     bool   `json:"retired,omitempty"`
}

// UnmarshalJSON reads {"fields": {…}} and, shorter, the fields themselves.
func (a *Addition) UnmarshalJSON(data []byte) error {
	type plain Addition
	var probe map[string]json.RawMessage
	if err := json.Unmarshal(data, &probe); err != nil {
		return err
	}
	if _, ok := probe["fields"]; ok {
		return json.Unmarshal(data, (*plain)(a))
	}
	return json.Unmarshal(data, &a.Fields)
}
