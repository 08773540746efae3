package schema

import "slices"

// Back is a link back, from one record to the many that name it.
type Back struct {
	Key   string `json:"key"`
	Label string `json:"label"`
	Type  string `json:"type"`
	Via   string `json:"via"`
}

// Type is one record type.
type Type struct {
	Key     string `json:"key"`
	Label   string `json:"label"`
	One     string `json:"one"`
	Name    string `json:"name,omitempty"`    // the field that names a record
	Owner   string `json:"owner,omitempty"`   // the link to the person it belongs to
	Team    string `json:"team,omitempty"`    // of people: the link to their team
	Readers bool   `json:"readers,omitempty"` // its records are those who read reports
	Listed  string `json:"listed,omitempty"`  // groups by a link to it can list all: "*", or those whose yes/no field of this key is yes
	History bool   `json:"history,omitempty"` // its records are the changes of others
	Added   bool   `json:"added,omitempty"`
	Icon    string `json:"icon,omitempty"` // one of Icons; "" for none
	// Stages are those of its records, in their order; none for a type without.
	Stages []Stage `json:"-"`
	// Diary says which fields say what people did and plan to do; nil for all types but the one whose records that is.
	Diary *Diary `json:"diary,omitempty"`
	// Currency is the path of the field that says in which currency the amounts of a record are; "" where they are in the
	// organisation's. Rated are the paths of the dates whose rate they are converted at: the first that is filled, and
	// that of today where none is (docs/brief.md, "Several currencies"). Rates says that its records are exchange rates.
	Currency string   `json:"currency,omitempty"`
	Rated    []string `json:"rated,omitempty"`
	Rates    bool     `json:"rates,omitempty"`
	// Belongs are the links to the records that a record of a type without owner belongs to, and is seen with.
	Belongs []string `json:"belongs,omitempty"`
	Fields  []Field  `json:"fields"`
	Backs   []Back   `json:"backs"`

	fields map[string]int
	backs  map[string]int
}

// Diary names the fields of records of what people do: what kind it was, when, whether it is done, with whom, what it was
// about, what came of it and how many minutes it took.
type Diary struct {
	Kind    string `json:"kind"`
	When    string `json:"when"`
	Done    string `json:"done"`
	With    string `json:"with"`
	About   string `json:"about"`
	Outcome string `json:"outcome"`
	Minutes string `json:"minutes"`
	Notes   string `json:"notes"`
}

// Field finds a field by key, nil where there is none.
func (t *Type) Field(key string) *Field {
	if i := t.Place(key); i >= 0 {
		return &t.Fields[i]
	}
	return nil
}

// Place is where a field stands in Fields, −1 where there is none of the key.
func (t *Type) Place(key string) int {
	if i, ok := t.fields[key]; ok {
		return i
	}
	return -1
}

// Links are the links to one that people set, in the order of the fields.
func (t *Type) Links() []*Field {
	var list []*Field
	for i := range t.Fields {
		if f := &t.Fields[i]; f.Kind == Link && f.Entered() {
			list = append(list, f)
		}
	}
	return list
}

// Staged is the field that holds the stage of its records, nil for a type without stages.
func (t *Type) Staged() *Field {
	for i := range t.Fields {
		if t.Fields[i].Stages {
			return &t.Fields[i]
		}
	}
	return nil
}

// Open says whether a stage of the type is one that goes on; what is no stage is.
func (t *Type) Open(stage string) bool {
	for _, s := range t.Stages {
		if s.Name == stage {
			return s.Status == "open"
		}
	}
	return true
}

// Above is the link to the record of the same type that one is below, nil where a type has none.
func (t *Type) Above() *Field {
	for _, f := range t.Links() {
		if f.To == t.Key {
			return f
		}
	}
	return nil
}

// Back finds a link to many by key, nil where there is none.
func (t *Type) Back(key string) *Back {
	if i, ok := t.backs[key]; ok {
		return &t.Backs[i]
	}
	return nil
}

// Pipelines lists the pipelines in the order their first stages are in.
func (t *Type) Pipelines() []string {
	var list []string
	for _, st := range t.Stages {
		if !slices.Contains(list, st.Pipeline) {
			list = append(list, st.Pipeline)
		}
	}
	return list
}
