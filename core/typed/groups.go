package typed

import (
	"strconv"

	"uzzel/core/brief"
	"uzzel/core/period"
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
	if r.take(", every one", "every one") {
		g.Every = true
	}
	at := r.at
	r.take(",")
	if !r.top(&g) {
		r.at = at
	}
	if r.take(", in order of", "in order of") && r.at < len(r.w) {
		g.Order = &brief.GroupOrder{By: r.word(r.at).text}
		r.at++
		g.Order.Desc = r.take("downwards")
	}
	if across {
		r.b.Across = append(r.b.Across, g)
		r.last = "across"
	} else {
		r.b.Groups = append(r.b.Groups, g)
		r.last = "groups"
	}
	return true
}

// groupOf reads the field of a group, or those of the parts, and its label.
func (r *reader) groupOf(g *brief.Group) bool {
	at := r.at
	if r.paths(g) {
		plain, after := *g, r.at
		if !r.take("as") || !r.paths(g) {
			*g, r.at = plain, after
			return true
		}
	}
	r.at, g.Field, g.Paths = at, "", nil
	if u, next, ok := r.unit(at); ok && len(r.b.Parts) == 0 { // "by month"
		f := r.impliedDate()
		if r.part.Period != nil {
			f = r.s.Type(r.part.Start).Field(r.part.Period.Field)
		}
		if f != nil {
			g.Field, g.By, r.at = f.Key, u, next
			return true
		}
	}
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

func (r *reader) paths(g *brief.Group) bool {
	if r.part.Key == "" {
		h, ok := r.field(r.here(), r.at)
		if !ok || h.link {
			return false
		}
		g.Field, r.at = h.path, h.next
		return true
	}
	r.closePart()
	g.Paths = map[string]string{}
	for i := range r.b.Parts {
		p := &r.b.Parts[i]
		if i > 0 {
			r.take(",", "and")
		}
		h, ok := r.field(scope{r.s.Type(p.Start), p}, r.at)
		if !ok || !r.isAt(h.next, "of") || h.next+1 >= len(r.w) || r.word(h.next+1).text != p.Key {
			return false
		}
		g.Paths[p.Key], r.at = h.path, h.next+2
	}
	return true
}

// top reads "the 5 largest by total and Other".
func (r *reader) top(g *brief.Group) bool {
	if !r.take("the", "top") || r.at+1 >= len(r.w) {
		return false
	}
	n, err := strconv.Atoi(r.word(r.at).low)
	if err != nil {
		return false
	}
	r.at++
	t := &brief.Top{N: n}
	switch {
	case r.take("largest"):
	case r.take("smallest"):
		t.From = "smallest"
	default:
		return false
	}
	if !r.take("by") || r.at >= len(r.w) {
		return false
	}
	t.By = r.word(r.at).text
	r.at++
	switch {
	case r.take("alone"):
		t.Rest = "drop"
	default:
		r.take("and other")
	}
	g.Top = t
	return true
}
