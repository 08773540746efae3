package typed

import (
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// scope is what fields are read from: a record type and, on the report's own records, what the report adds to it.
type scope struct {
	t    *schema.Type
	part *brief.Part // nil behind a link
}

// hit is a field that was read.
type hit struct {
	path    string
	kind    schema.Kind
	to      string
	choices []string
	flag    *schema.Field // of a yes/no field
	link    bool          // a brought link itself
	next    int
}

func (r *reader) here() scope { return scope{r.start(), r.part} }

// field reads a field, the longest there is.
func (r *reader) field(s scope, at int) (hit, bool) {
	if s.part != nil && r.word(at).quoted {
		if h, ok := r.ownField(s.part, at); ok {
			return h, true
		}
	}
	best, ok := r.direct(s.t, at, 0)
	better := func(h hit, found bool) {
		if found && (!ok || h.next > best.next) {
			best, ok = h, true
		}
	}
	if s.part != nil {
		better(r.ownField(s.part, at))
		better(r.brought(s.t, s.part.Bring, at))
	}
	if !ok {
		return r.behind(s.t, at)
	}
	return best, ok
}

func (h *hit) of(f *schema.Field) {
	h.kind, h.to, h.choices = f.Kind, f.To, f.Choices
	if f.Kind == schema.YesNo {
		h.flag = f
	}
}

// direct reads a field of a record type, or one behind its links.
func (r *reader) direct(t *schema.Type, at, depth int) (best hit, ok bool) {
	if at < len(r.w) && !r.word(at).quoted && depth == 0 {
		if h, found := r.byPath(t, at); found {
			return h, true
		}
	}
	for i := range t.Fields {
		f := &t.Fields[i]
		n, owns := r.label(f.Label, at)
		if n == 0 || (strings.HasSuffix(fold(f.Label), " by") && at+n < len(r.w) && isUnit(r, at+n)) {
			continue
		}
		if !owns && (!ok || at+n > best.next) {
			best, ok = hit{path: f.Key, next: at + n}, true
			best.of(f)
			if f.Kind == schema.ID {
				best.to = t.Key
			}
		}
		if f.Kind != schema.Link || depth >= brief.MaxHops {
			continue
		}
		if h, found := r.direct(r.s.Type(f.To), at+n, depth+1); found && (!ok || h.next > best.next) {
			h.path = f.Key + "." + h.path
			best, ok = h, true
		}
	}
	return best, ok
}

// byPath reads a field by its path, as the brief's text has it: customer.segment.
func (r *reader) byPath(t *schema.Type, at int) (hit, bool) {
	h := hit{path: r.word(at).text, next: at + 1}
	steps := strings.Split(h.path, ".")
	if len(steps) < 2 {
		return h, false
	}
	for i, step := range steps {
		f := t.Field(step)
		if f == nil || (i < len(steps)-1 && f.Kind != schema.Link) {
			return h, false
		}
		h.of(f)
		if i < len(steps)-1 {
			t = r.s.Type(f.To)
		}
	}
	return h, true
}

// behind reads the last part of a field's name, where only one near field has it: "segment" of a deal's customer.
func (r *reader) behind(t *schema.Type, at int) (best hit, ok bool) {
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Kind != schema.Link || f.Worked != nil || strings.HasSuffix(f.Key, "_by") {
			continue
		}
		to := r.s.Type(f.To)
		for k := range to.Fields {
			g := &to.Fields[k]
			n, owns := r.label(g.Label, at)
			if n == 0 || owns || at+n <= best.next {
				continue
			}
			best, ok = hit{path: f.Key + "." + g.Key, next: at + n}, true
			best.of(g)
		}
	}
	return best, ok
}

// ownFields are the fields that a part works out, with those that are said further on where they are known.
func (r *reader) ownFields(p *brief.Part) []brief.Own {
	if further := r.foreseen[p.Key]; len(further) > len(p.Own) {
		return further
	}
	return p.Own
}

// ownField reads a field that the report works out, by its label or key.
func (r *reader) ownField(p *brief.Part, at int) (best hit, ok bool) {
	own := r.ownFields(p)
	for i := range own {
		o := &own[i]
		for _, name := range []string{o.Name(), o.Key} {
			if name == "" {
				continue
			}
			n, owns := r.label(name, at)
			if at < len(r.w) && r.word(at).quoted && strings.EqualFold(r.word(at).text, name) {
				n, owns = 1, false
			}
			if n == 0 || owns || at+n < best.next {
				continue
			}
			next := at + n
			if name != o.Key && r.isAt(next, "(", o.Key, ")") {
				next += 3
			}
			if next > best.next {
				best, ok = hit{path: "own." + o.Key, kind: r.ownKind(p, o), next: next}, true
			}
		}
		if at < len(r.w) && r.word(at).text == "own."+o.Key {
			return hit{path: "own." + o.Key, kind: r.ownKind(p, o), next: at + 1}, true
		}
	}
	return best, ok
}

func (r *reader) ownKind(p *brief.Part, o *brief.Own) schema.Kind {
	switch {
	case o.Bands != nil, o.Merge != nil:
		return schema.Text
	case o.Linked != nil && o.Linked.Of != "" && o.Linked.Fn != "count" && o.Linked.Fn != "filled" && o.Linked.Fn != "distinct":
		if t := r.many(r.s.Type(p.Start), o.Linked.Link); t != nil {
			if f := r.follow(t, o.Linked.Of); f != nil {
				return f.Kind
			}
		}
	}
	return schema.Number
}

// follow goes along a path over links to one.
func (r *reader) follow(t *schema.Type, path string) *schema.Field {
	var f *schema.Field
	for _, step := range strings.Split(path, ".") {
		if t == nil {
			return nil
		}
		if f = t.Field(step); f == nil {
			return nil
		}
		t = r.s.Type(f.To)
	}
	return f
}

// many is the record type over a link to many, behind links to one.
func (r *reader) many(t *schema.Type, path string) *schema.Type {
	steps := strings.Split(path, ".")
	for i, step := range steps {
		if i == len(steps)-1 {
			if b := t.Back(step); b != nil {
				return r.s.Type(b.Type)
			}
			return nil
		}
		f := t.Field(step)
		if f == nil || f.Kind != schema.Link {
			return nil
		}
		t = r.s.Type(f.To)
	}
	return nil
}

// brought reads a link that the report brings, or a field behind it.
func (r *reader) brought(t *schema.Type, b *brief.Bring, at int) (best hit, ok bool) {
	if b == nil {
		return best, false
	}
	back := t.Back(b.Link)
	if back == nil {
		return best, false
	}
	n, owns := r.label(back.Label, at)
	if n == 0 {
		return best, false
	}
	to := r.s.Type(back.Type)
	if !owns {
		best, ok = hit{path: b.Link, link: true, next: at + n}, true
	}
	for _, read := range []func() (hit, bool){
		func() (hit, bool) { return r.direct(to, at+n, 1) },
		func() (hit, bool) { return r.brought(to, b.Bring, at+n) },
	} {
		if h, found := read(); found && (!ok || h.next > best.next) {
			h.path = b.Link + "." + h.path
			best, ok = h, true
		}
	}
	return best, ok
}

// linkPath reads a link to many, the record's own or one behind its links to one: "customer's activities".
func (r *reader) linkPath(t *schema.Type, at, depth int) (path string, to *schema.Type, next int) {
	for i := range t.Backs {
		b := &t.Backs[i]
		if n, owns := r.label(b.Label, at); n > 0 && !owns && at+n > next {
			path, to, next = b.Key, r.s.Type(b.Type), at+n
		}
		other := r.s.Type(b.Type)
		if n, owns := r.label(other.One, at); n > 0 && !owns && at+n > next {
			path, to, next = b.Key, other, at+n
		}
	}
	if depth >= brief.MaxHops {
		return path, to, next
	}
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Kind != schema.Link {
			continue
		}
		n, owns := r.label(f.Label, at)
		if n == 0 || !owns {
			continue
		}
		if p, far, end := r.linkPath(r.s.Type(f.To), at+n, depth+1); end > next {
			path, to, next = f.Key+"."+p, far, end
		}
	}
	return path, to, next
}
