package column

import (
	"sync"

	"golang.org/x/text/cases"
)

// Fold is full Unicode case folding, by which text compares (docs/brief.md, "Rows").
func Fold(s string) string {
	plain := true
	for i := 0; i < len(s); i++ {
		if c := s[i]; c >= 0x80 || (c >= 'A' && c <= 'Z') {
			plain = false
			break
		}
	}
	if plain {
		return s
	}
	return cases.Fold().String(s)
}

// Dict is the different texts of a column; a text's place is its code. It only ever grows at its end, so that a
// snapshot may keep reading the part it knows.
type Dict struct {
	mu     sync.Mutex
	values []string
	codes  map[string]int32
	folded []string
}

// NewDict makes a dictionary that starts with values, in that order.
func NewDict(values ...string) *Dict {
	d := &Dict{codes: map[string]int32{}}
	for _, v := range values {
		d.Code(v)
	}
	return d
}

// Code is the code of a text, given out anew where it has none.
func (d *Dict) Code(s string) int32 {
	d.mu.Lock()
	defer d.mu.Unlock()
	c, ok := d.codes[s]
	if !ok {
		c = int32(len(d.values))
		d.values = append(d.values, s)
		d.codes[s] = c
	}
	return c
}

// Values lists the texts by code.
func (d *Dict) Values() []string {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.values
}

// Folded lists the texts by code, case folded.
func (d *Dict) Folded() []string {
	d.mu.Lock()
	defer d.mu.Unlock()
	for i := len(d.folded); i < len(d.values); i++ {
		d.folded = append(d.folded, Fold(d.values[i]))
	}
	return d.folded
}
