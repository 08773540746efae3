package brief

import (
	"slices"
	"strings"

	"uzzel/core/schema"
)

// RenameValues has conditions and merges of a brief name the values of a field as they are called now: to gives each
// value's new name. The brief is changed in place; whether it was is said.
func RenameValues(s *schema.Schema, b *Brief, typ, field string, to map[string]string) bool {
	r := &renamer{s: s, typ: typ, field: field, to: to}
	parts := []*Part{&b.Part}
	for i := range b.Parts {
		parts = append(parts, &b.Parts[i])
	}
	for _, p := range parts {
		r.part(p)
	}
	return r.changed
}

type renamer struct {
	s          *schema.Schema
	typ, field string
	to         map[string]string
	changed    bool
}

func (r *renamer) part(p *Part) {
	start := r.s.Type(p.Start)
	r.tree(start, p.Filter)
	at := start
	for b := p.Bring; b != nil; b = b.Bring {
		_, at = r.end(at, b.Link)
		r.tree(at, b.Where)
	}
	for i := range p.Own {
		o := &p.Own[i]
		if o.Linked != nil {
			_, linked := r.end(start, o.Linked.Link)
			r.tree(linked, o.Linked.Where)
		}
		if o.Merge != nil && r.ends(start, o.Merge.Of) {
			for k := range o.Merge.Sets {
				o.Merge.Sets[k].Values = r.values(o.Merge.Sets[k].Values)
			}
		}
	}
	for i := range p.Summaries {
		r.tree(start, p.Summaries[i].Where)
	}
}

func (r *renamer) tree(t *schema.Type, tree *Tree) {
	if t == nil || tree == nil {
		return
	}
	for _, list := range [][]Tree{tree.All, tree.Any} {
		for i := range list {
			r.tree(t, &list[i])
		}
	}
	r.tree(t, tree.Not)
	if tree.Link != "" {
		_, linked := r.end(t, tree.Link)
		r.tree(linked, tree.Where)
	}
	if tree.Field != "" && r.ends(t, tree.Field) {
		tree.Values = r.values(tree.Values)
	}
}

// values are the same under their new names, each once.
func (r *renamer) values(list []string) []string {
	var out []string
	for _, v := range list {
		if now, ok := r.to[v]; ok && now != v {
			r.changed = true
			v = now
		}
		if !slices.Contains(out, v) {
			out = append(out, v)
		}
	}
	return out
}

func (r *renamer) ends(t *schema.Type, path string) bool {
	of, at := r.end(t, path)
	return of != nil && of.Key == r.typ && at == nil && strings.HasSuffix("."+path, "."+r.field)
}

// end follows a path over links to one and to many: the type that its last segment is of, and the type that it leads to,
// nil for a field that is no link.
func (r *renamer) end(t *schema.Type, path string) (of, at *schema.Type) {
	at = t
	for _, seg := range strings.Split(path, ".") {
		if at == nil {
			return nil, nil
		}
		of = at
		switch f, back := of.Field(seg), of.Back(seg); {
		case f != nil && f.Kind == schema.Link:
			at = r.s.Type(f.To)
		case f != nil:
			at = nil
		case back != nil:
			at = r.s.Type(back.Type)
		default:
			return nil, nil
		}
	}
	return of, at
}
