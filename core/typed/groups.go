package typed

import (
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
)

func (r *reader) grouped() bool {
	switch {
	case r.take("by", "per", "grouped by"):
		return r.group(false)
	case r.take("across"):
		return r.group(true)
	}
	return false
}

// group reads one level of groups.
func (r *reader) group(across bool) bool {
	g := brief.Group{}
	if !r.groupOf(&g) {
		return false
	}
	if r.is("by") {
		if u, next, ok := r.unit(r.at + 1); ok {
			g.By, r.at = u, next
		}
	}
	if g.By == "" && g.Field != "" {
		if f := r.follow(r.start(), g.Field); f != nil && f.Kind.Dated() {
			g.By = period.ByMonth
		}
	}
	if w := r.word(r.at); w.quoted && g.Label == "" {
		g.Label = w.text
		r.at++
	}
	if r.is("(", "every") {
		g.Every = true
		for !r.take(")") && r.at < len(r.w) {
			r.at++
		}
	} else if r.take(", every one", "every one") {
		g.Every = true
	}
	at := r.at
	bracket := r.take("(")
	if !bracket {
		r.take(",")
	}
	if !r.top(&g, bracket) {
		r.at = at
	}
	r.groupOrder(&g)
	if across {
		r.b.Across = append(r.b.Across, g)
		r.last = "across"
	} else {
		r.b.Groups = append(r.b.Groups, g)
		r.last = "groups"
	}
	return true
}

// groupOrder reads how the groups of one level are sorted: ", A to Z", ", largest count first".
func (r *reader) groupOrder(g *brief.Group) {
	at := r.at
	if r.take(", in order of", "in order of") && r.at < len(r.w) {
		g.Order = &brief.GroupOrder{By: pending + r.word(r.at).text}
		r.at++
		g.Order.Desc = r.take("downwards")
		return
	}
	r.take(",")
	switch {
	case r.take("a to z", "first to last", "earliest first", "smallest first", "no first"):
		g.Order = &brief.GroupOrder{By: "label"}
		return
	case r.take("z to a", "last first", "latest first", "largest first", "yes first"):
		g.Order = &brief.GroupOrder{By: "label", Desc: true}
		return
	case r.is("largest"), r.is("smallest"):
		from := r.at + 1
		for end := from + 1; end < len(r.w) && end < from+20 && !r.isAt(end, ","); end++ {
			if r.isAt(end, "first") {
				g.Order = &brief.GroupOrder{By: pending + r.said(from, end), Desc: r.is("largest")}
				r.at = end + 1
				return
			}
		}
	}
	r.at = at
}

// groupOf reads the field of a group, or those of the parts, and its label.
func (r *reader) groupOf(g *brief.Group) bool {
	at := r.at
	if r.part.Key != "" || len(r.b.Parts) > 0 {
		return r.partsGroup(g)
	}
	if r.take("each") {
		if n, owns := r.label(r.start().One, r.at); n > 0 && !owns {
			r.at += n
			g.Field = "id"
			return true
		}
		r.at = at
	}
	if r.dated(g) {
		return true
	}
	if r.paths(g) {
		plain, after := *g, r.at
		if !r.take("as") || !r.paths(g) {
			*g, r.at = plain, after
		}
		return true
	}
	r.at, g.Field, g.Paths = at, "", nil
	for end := at; end < len(r.w); end++ {
		if !r.isAt(end, "as") || end == at {
			continue
		}
		r.at = end + 1
		if r.paths(g) {
			g.Label = r.raw(at, end)
			if r.word(at).quoted {
				g.Label = r.word(at).text
			}
			return true
		}
	}
	r.at = at
	return false
}

// dated reads a group of dates by a unit: "month created", "month of delivery", and the unit alone.
func (r *reader) dated(g *brief.Group) bool {
	at := r.at
	u, next, ok := r.unit(at)
	if !ok {
		return false
	}
	r.at = at
	var best *schema.Field
	bare := false
	end := next
	for i := range r.start().Fields {
		f := &r.start().Fields[i]
		if !f.Kind.Dated() || f.Grouped == "" {
			continue
		}
		rest := strings.TrimSpace(strings.TrimPrefix(f.Grouped, "{unit}"))
		if rest == "" && best == nil {
			best, bare = f, true
			continue
		}
		if n, owns := r.label(rest, next); n > 0 && !owns && next+n > end {
			best, bare, end = f, false, next+n
		}
	}
	if r.isAt(next, "of") {
		if h, ok := r.field(r.here(), next+1); ok && h.kind.Dated() && h.next > end {
			g.Field, g.By, r.at = h.path, u, h.next
			return true
		}
	}
	if end == next { // the unit alone
		if h, ok := r.field(r.here(), at); ok && h.next >= next && !bare {
			return false // a field of that name
		}
		switch {
		case bare:
			g.Field = best.Key
		case r.part.Period != nil:
			g.Field = r.part.Period.Field
		default:
			f := r.impliedDate()
			if f == nil {
				return false
			}
			g.Field = f.Key
		}
		g.By, r.at = u, end
		return true
	}
	g.Field, g.By, r.at = best.Key, u, end
	return true
}

func (r *reader) paths(g *brief.Group) bool {
	h, ok := r.field(r.here(), r.at)
	if !ok || h.link {
		return false
	}
	g.Field, r.at = h.path, h.next
	return true
}

// partsGroup reads a group over several parts: "person: the owner of Won, the owner of Visits".
func (r *reader) partsGroup(g *brief.Group) bool {
	r.closePart()
	at := r.at
	if r.partPaths(g) {
		if r.take("as") && r.partPaths(g) {
			g.Label = r.raw(at, at+1)
		}
		return true
	}
	for end := at; end < len(r.w) && end < at+12; end++ {
		if !r.isAt(end, ":") && !r.isAt(end, "as") {
			continue
		}
		r.at = end + 1
		if r.partPaths(g) {
			g.Label = brief.Capital(r.said(at, end))
			return true
		}
	}
	r.at = at
	return false
}

func (r *reader) partPaths(g *brief.Group) bool {
	at := r.at
	g.Paths = map[string]string{}
	for i := range r.b.Parts {
		p := &r.b.Parts[i]
		if i > 0 {
			r.take(",", "and")
		}
		r.take("the")
		h, ok := r.field(scope{r.s.Type(p.Start), p}, r.at)
		if !ok || !r.isAt(h.next, "of") {
			r.at, g.Paths = at, nil
			return false
		}
		n := r.ofPart(h.next, p.Key)
		if n == 0 {
			r.at, g.Paths = at, nil
			return false
		}
		g.Paths[p.Key], r.at = h.path, h.next+n
	}
	if r.is("(", "each") {
		if u, next, ok := r.unit(r.at + 2); ok && r.isAt(next, ")") {
			g.By, r.at = u, next+1
		}
	}
	return true
}

// ofPart says how many words name a part, "of" included: "of Won", and as it was said before, "in won".
func (r *reader) ofPart(at int, key string) int {
	if !r.isAt(at, "of") && !r.isAt(at, "in") {
		return 0
	}
	if r.word(at+1).text == key {
		return 2
	}
	if n, owns := r.label(brief.PartName(key), at+1); n > 0 && !owns {
		return n + 1
	}
	return 0
}

// top reads "the 5 with the largest sum of value, and Other", and shorter ways to say it.
func (r *reader) top(g *brief.Group, bracket bool) bool {
	if !r.take("the", "top") || r.at+1 >= len(r.w) {
		return false
	}
	n, err := strconv.Atoi(r.word(r.at).low)
	if err != nil {
		return false
	}
	r.at++
	t := &brief.Top{N: n}
	with := r.take("with the", "with")
	switch {
	case r.take("largest"):
	case r.take("smallest"):
		t.From = "smallest"
	default:
		return false
	}
	if !with && !r.take("by") {
		return false
	}
	from := r.at
	for r.at < len(r.w) && !r.is(",") && !r.is(")") && !r.is("alone") && (bracket || !r.is("and", "other")) {
		r.at++
		if !bracket && !with {
			break
		}
	}
	t.By = pending + r.said(from, r.at)
	switch {
	case r.take("alone", ", the rest left out"):
		t.Rest = "drop"
	default:
		r.take(", and other", "and other")
	}
	if bracket && !r.take(")") {
		return false
	}
	g.Top = t
	return r.at > from
}
