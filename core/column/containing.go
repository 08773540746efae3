package column

import (
	"slices"
	"sort"
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
	now := found{sub: sub, below: n, codes: make([]int32, 0, len(from.codes))}
	for c, is := range own {
		if is {
			marks[c] = true
			now.codes = append(now.codes, int32(c))
		}
	}
	if len(now.codes) > n/partFound {
		return
	}
	d.mu.Lock()
	d.found = slices.DeleteFunc(d.found, func(f found) bool { return f.sub == sub })
	d.found = slices.Insert(d.found[:min(len(d.found), mostFound-1)], 0, now)
	d.mu.Unlock()
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

// containing looks for the byte of sub that occurs least, and compares around it.
func (r *run) containing(sub string, code, end int, marks []bool) {
	if code >= end {
		return
	}
	at, last := 0, r.ends[end-1]
	if code > 0 {
		at = r.ends[code-1]
	}
	rare := 0
	for i := range len(sub) {
		if r.often[sub[i]] < r.often[sub[rare]] {
			rare = i
		}
	}
	for at += rare; at < last; {
		i := strings.IndexByte(r.text[at:last], sub[rare])
		if i < 0 {
			return
		}
		at += i
		from := at - rare
		at++
		if from+len(sub) > last || r.text[from:from+len(sub)] != sub {
			continue
		}
		for near := 0; near < 4 && r.ends[code] <= from; near++ { // of what is frequent the next is near
			code++
		}
		if r.ends[code] <= from {
			code += sort.SearchInts(r.ends[code:min(code+64, end)], from+1)
		}
		if r.ends[code] <= from {
			code += sort.SearchInts(r.ends[code:end], from+1)
		}
		if from+len(sub) <= r.ends[code] { // else it reaches into the next text
			marks[r.first+code] = true
			at = r.ends[code] + rare
		}
	}
}
