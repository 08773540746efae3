package column

import (
	"slices"
	"strings"
)

// found is which codes of a dictionary, of those below a number, have a text in them.
type found struct {
	sub   string
	below int
	codes []int32
}

// mostFound is how many searches a dictionary remembers. What more than a part of its texts has is searched anew.
const (
	mostFound = 16
	partFound = 4
)

// Mark marks the codes below n whose folded text contains sub, which is folded and not empty. Who types goes on from what
// was found for the letters before: only those texts are looked at again. parallel does something for parts of a span at
// once.
func (d *Dict) Mark(sub string, n int, marks []bool, parallel func(n int, do func(from, to int))) {
	d.mu.Lock()
	d.fold()
	folded := d.folded
	var near *found
	for i := range d.found {
		f := &d.found[i]
		if f.below <= n && strings.Contains(sub, f.sub) && (near == nil || len(f.codes) < len(near.codes)) {
			near = f
		}
	}
	var from found
	if near != nil {
		from = *near
	}
	d.mu.Unlock()

	own := make([]bool, n)
	parallel(len(from.codes), func(lo, hi int) {
		for _, c := range from.codes[lo:hi] {
			own[c] = from.sub == sub || strings.Contains(folded[c], sub)
		}
	})
	parallel(n-from.below, func(lo, hi int) { d.Containing(sub, from.below+lo, from.below+hi, own) })
	many := 0
	for c, is := range own {
		if is {
			marks[c] = true
			many++
		}
	}
	if many > n/partFound {
		return
	}
	now := found{sub: sub, below: n, codes: make([]int32, 0, many)}
	for c, is := range own {
		if is {
			now.codes = append(now.codes, int32(c))
		}
	}
	d.mu.Lock()
	d.found = slices.DeleteFunc(d.found, func(f found) bool { return f.sub == sub })
	d.found = slices.Insert(d.found[:min(len(d.found), mostFound-1)], 0, now)
	d.mu.Unlock()
}

// Fit is how well a text fits what is searched for: the higher, the better.
type Fit uint8

// Fits, the worst first.
const (
	Unfit Fit = iota
	Contains
	Begins
	Is
)

// Fits says of each code below n how well its folded text fits sub, which is folded and not empty, and how many texts fit
// so.
func (d *Dict) Fits(sub string, n int) (fits []Fit, many [Is + 1]int) {
	marks := make([]bool, n)
	d.Containing(sub, 0, n, marks)
	d.mu.Lock()
	folded := d.folded
	d.mu.Unlock()
	fits = make([]Fit, n)
	for code, is := range marks {
		fit := Unfit
		switch {
		case !is:
		case !strings.HasPrefix(folded[code], sub):
			fit = Contains
		case len(folded[code]) > len(sub):
			fit = Begins
		default:
			fit = Is
		}
		fits[code] = fit
		many[fit]++
	}
	return fits, many
}

// Containing marks the codes from one up to another whose folded text contains sub, which is folded and not empty.
func (d *Dict) Containing(sub string, from, to int, marks []bool) {
	d.mu.Lock()
	d.fold()
	runs := d.runs
	d.mu.Unlock()
	for i := range runs {
		r := &runs[i]
		r.containing(sub, max(from-r.first, 0), min(to-r.first, len(r.ends)), marks)
	}
}

// containing looks at the texts that have all letters of sub, and compares those of more than one.
func (r *run) containing(sub string, code, end int, marks []bool) {
	want, alone := letters(sub), len(sub) == 1 && letterOf(sub[0]) < severalOf
	for ; code < end; code++ {
		if r.letters[code]&want != want {
			continue
		}
		first := 0
		if code > 0 {
			first = r.ends[code-1]
		}
		if alone || strings.Contains(r.text[first:r.ends[code]], sub) {
			marks[r.first+code] = true
		}
	}
}

// severalOf is from which letter on one stands for several bytes.
const severalOf = 36

// letterOf is which of 64 letters a byte of a folded text counts as: a to z and digits each by itself.
func letterOf(b byte) int {
	switch {
	case b >= 'a' && b <= 'z':
		return int(b - 'a')
	case b >= '0' && b <= '9':
		return 26 + int(b-'0')
	}
	return severalOf + int(b)%(64-severalOf)
}

// letters are those of a folded text, as bits.
func letters(text string) (bits uint64) {
	for i := range len(text) {
		bits |= 1 << letterOf(text[i])
	}
	return bits
}
