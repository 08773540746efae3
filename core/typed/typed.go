// Package typed reads a report that was typed as a sentence: what brief.Say says, and shorter ways to say it ("open
// deals over 20k closing this quarter by stage, sum of value"). It looks nothing up outside the schema and the names it
// is given, and computes no numbers.
package typed

import (
	"strings"

	"uzzel/core/brief"
	"uzzel/core/figures"
	"uzzel/core/schema"
)

// Known is what the organisation knows besides its schema: records by name (IDs may be nil), words of its own, and how
// it writes days.
type Known struct {
	IDs   func(typ, name string) []string
	Words []Word
	Form  figures.Form
}

// Word is a word of an organisation's own for some of the records of a type: "leads" are customers whose kind is
// Prospect.
type Word struct {
	Name   string
	Start  string
	Filter *brief.Tree
}

// Unread is a part of the sentence that was not understood.
type Unread struct {
	From int      `json:"from"` // in characters of the text
	To   int      `json:"to"`
	Text string   `json:"text"`
	Near []string `json:"near"` // what it may have been meant to be
}

// Read reads a typed sentence. The brief holds all that was understood; nil where not even a record type was named.
func Read(text string, s *schema.Schema, known Known) (*brief.Brief, []Unread) {
	r := &reader{text: text, w: split(text), s: s, known: known}
	r.read()
	if own := r.owns(); len(own) > 0 && r.spent < maxSteps {
		// Fields that are worked out are said after the conditions that may be on them.
		r = &reader{text: text, w: r.w, s: s, known: known, foreseen: own, labels: r.labels, plural: r.plural}
		r.read()
	}
	for i := range r.un {
		r.un[i].Near = r.near(r.un[i].Text)
	}
	return r.b, r.un
}

// maxSteps is how much looking one sentence may cost, so that no text keeps the server busy for long: half a second.
// The sentences that reports are said in cost far less.
const maxSteps = 5_000_000

// maxBrackets is how deep conditions are read inside one another.
const maxBrackets = 30

// maxNear is the longest text, in bytes, that words like it are looked for.
const maxNear = 80

func (r *reader) read() {
	r.b = &brief.Brief{Version: brief.Version}
	if !r.records() {
		if len(r.un) == 0 {
			r.unread(0, len(r.w))
		}
		r.b = nil
		return
	}
	for r.at < len(r.w) {
		if r.spent >= maxSteps {
			r.unread(r.at, len(r.w))
			break
		}
		if at := r.at; !r.clause() || r.at == at {
			r.unread(r.at, r.at+1)
			r.at++
			r.last = ""
		}
	}
	r.finish()
}

// owns are the worked-out fields that were read, by part.
func (r *reader) owns() map[string][]brief.Own {
	own := map[string][]brief.Own{}
	if r.b == nil {
		return own
	}
	if len(r.b.Own) > 0 {
		own[""] = r.b.Own
	}
	for _, p := range r.b.Parts {
		if len(p.Own) > 0 {
			own[p.Key] = p.Own
		}
	}
	return own
}

// reader goes through the words from the left.
type reader struct {
	text  string
	w     []word
	at    int
	s     *schema.Schema
	known Known
	b     *brief.Brief
	// part is the one being read: the brief's own, or the last of its parts.
	part *brief.Part
	// foreseen are fields that are worked out further on, by part.
	foreseen map[string][]brief.Own
	last     string   // the clause read last, which "and" goes on with
	of       string   // what the chart draws, as it was typed
	names    []string // the names that formulas over summaries use
	sums     []said   // the summaries that were read, as they may be referred to
	un       []Unread
	// spent is how many steps reading has taken, depth how many brackets it is in.
	spent, depth int
	peeking      bool                // whether a condition begins is asked, not which
	labels       map[string][]string // the folded words of labels that were asked for
	plural       bool                // the last word of a field is in the plural
}

// word is one word of the text; past the last one it is a mark that is like no other, so that reading on finds nothing.
func (r *reader) word(i int) word {
	if i < 0 || i >= len(r.w) {
		return word{mark: true, from: len(r.text), to: len(r.text)}
	}
	return r.w[i]
}

// spend takes steps from what reading may cost, and says whether it may go on.
func (r *reader) spend(steps int) bool {
	r.spent += steps
	return r.spent < maxSteps
}

// start is the record type being read about.
func (r *reader) start() *schema.Type { return r.s.Type(r.part.Start) }

// unread notes words that were not understood; those that touch are one.
func (r *reader) unread(from, to int) {
	if from >= to || from >= len(r.w) || (to == from+1 && r.word(from).mark) {
		return
	}
	u := Unread{
		From: chars(r.text[:r.word(from).from]),
		To:   chars(r.text[:r.word(to-1).to]),
		Text: r.text[r.word(from).from:r.word(to-1).to],
	}
	if n := len(r.un); n > 0 && strings.TrimSpace(string([]rune(r.text)[r.un[n-1].To:u.From])) == "" {
		u.From, u.Text = r.un[n-1].From, r.un[n-1].Text+" "+u.Text
		r.un = r.un[:n-1]
	}
	// A word that leads to what was not understood is none of it.
	for _, lead := range leads {
		if rest, ok := strings.CutPrefix(fold(u.Text), lead+" "); ok && strings.TrimSpace(rest) != "" {
			cut := chars(u.Text) - chars(rest)
			u.From, u.Text = u.From+cut, string([]rune(u.Text)[cut:])
		}
	}
	r.un = append(r.un, u)
}

var leads = []string{"and", "then", "by", "across", "where", "of", "with", "listing", "sorted by", "showing"}

func chars(s string) int { return len([]rune(s)) }

// finish settles what can only be settled once all is read.
func (r *reader) finish() {
	r.closePart()
	r.refer()
	if r.b.Chart != nil && r.of != "" {
		r.drawn()
	}
	if r.b.Chart == nil && len(r.b.Groups)+len(r.b.Across) > 0 && r.bare() {
		r.b.Chart = &brief.Chart{Kind: "column"}
		if len(r.b.Groups) > 0 && r.b.Groups[0].By == "" && r.b.Groups[0].Field != "" {
			r.b.Chart.Kind = "bar"
		}
	}
}

// bare says whether the sentence was typed in short, not as it is said in full.
func (r *reader) bare() bool {
	for _, w := range r.w {
		if w.low == "showing" {
			return false
		}
	}
	return true
}
