package column

import (
	"strings"
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

// Dict is the different texts of a column; a text's index is its code. It only ever grows at its end, so that a
// snapshot may keep reading the part it knows.
type Dict struct {
	mu     sync.Mutex
	values []string
	codes  map[string]int32
	folded []string
	runs   []run
	found  []found // what was looked for lately, the latest first
}

// run is folded texts one after the other, so that all of them can be searched at once.
type run struct {
	first int // the code of the first text
	text  string
	ends  []int // of each text in it
	// letters are those of each text, as bits.
	letters []uint64
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
	return d.code(s)
}

// known is the code of a text that has one, −1 of others.
func (d *Dict) known(s string) int64 {
	d.mu.Lock()
	defer d.mu.Unlock()
	if c, ok := d.codes[s]; ok {
		return int64(c)
	}
	return -1
}

// encode gives the codes of texts, Null for empty ones.
func (d *Dict) encode(texts []string) []int64 {
	d.mu.Lock()
	defer d.mu.Unlock()
	out := make([]int64, len(texts))
	// Most fields have few different texts: those met lately are found without the map.
	var lately [64]struct {
		text string
		code int64
	}
	for i, s := range texts {
		n := len(s)
		if n == 0 {
			out[i] = Null
			continue
		}
		l := &lately[(n+int(s[0])*7+int(s[n/2])*13+int(s[n-1])*3)%len(lately)]
		if l.text != s {
			l.text, l.code = s, int64(d.code(s))
		}
		out[i] = l.code
	}
	return out
}

func (d *Dict) code(s string) int32 {
	c, ok := d.codes[s]
	if !ok {
		s = strings.Clone(s) // it may be part of something long
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
	d.fold()
	return d.folded
}

func (d *Dict) fold() {
	first := len(d.folded)
	if first == len(d.values) {
		return
	}
	r := run{first: first, ends: make([]int, 0, len(d.values)-first)}
	var all strings.Builder
	for _, v := range d.values[first:] {
		all.WriteString(Fold(v))
		r.ends = append(r.ends, all.Len())
	}
	r.text = all.String()
	r.letters = make([]uint64, 0, len(r.ends))
	from := 0
	for _, end := range r.ends {
		d.folded = append(d.folded, r.text[from:end])
		r.letters = append(r.letters, letters(r.text[from:end]))
		from = end
	}
	d.runs = append(d.runs, r)
}
