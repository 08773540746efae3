package brief

import (
	"encoding/json"
	"fmt"
	"slices"
)

// Fixed conditions (docs/brief.md, "Conditions") are neither seen nor changed by those who read a report. They are kept
// apart from what is read: a condition that is fixed, or has one inside it, is moved as a whole into a member that no
// JSON has. What is left can be handed out, asked with and sent back; Compose puts the two together again.

// Unsaid is said in place of a condition that its owner fixed and the reader does not see.
const Unsaid = "what its owner fixed"

// Public is a brief as it leaves for someone: it holds nothing that its reader may not see. The zero value is no brief.
type Public struct{ b *Brief }

// ForReader is what someone gets who may not change a report: without its fixed conditions.
func ForReader(b *Brief) Public {
	shown := each(b, func(site **Tree, fixed **Tree) {
		*site, _ = split(*site)
		*fixed = nil
	})
	return Public{shown}
}

// ForOwner is what someone gets who may change a report: all of it that JSON has.
func ForOwner(b *Brief) Public {
	return Public{each(b, func(_ **Tree, fixed **Tree) { *fixed = nil })}
}

// Brief is the brief, which is not to be changed.
func (p Public) Brief() *Brief { return p.b }

// MarshalJSON writes the brief.
func (p Public) MarshalJSON() ([]byte, error) { return json.Marshal(p.b) }

// HasFixed says whether a brief has conditions that its owner fixed.
func HasFixed(b *Brief) bool {
	found := false
	each(b, func(site **Tree, fixed **Tree) { found = found || *fixed != nil || hasFixed(*site) })
	return found
}

// Asks says whether a brief has conditions that the reader is asked for.
func Asks(b *Brief) bool {
	found := false
	each(b, func(site **Tree, _ **Tree) { found = found || some(*site, func(t *Tree) bool { return t.Ask }) })
	return found
}

// Key is a text that is the same for briefs that ask the same, their fixed conditions included.
func Key(b *Brief) (string, error) {
	text, err := json.Marshal(b)
	if err != nil {
		return "", err
	}
	key := string(text)
	at := 0
	each(b, func(_ **Tree, fixed **Tree) {
		at++
		if *fixed == nil {
			return
		}
		var text []byte
		if text, err = json.Marshal(*fixed); err == nil {
			key += fmt.Sprintf("\n%d %s", at, text)
		}
	})
	return key, err
}

// Compose is a reading of a report with the conditions that the report's owner fixed: reading is what ForReader gave of
// kept, changed for this reading. A reading that no longer has the place that such a condition belongs to is refused.
func Compose(reading, kept *Brief) (*Brief, error) {
	var bad Problems
	out := each(reading, func(_ **Tree, fixed **Tree) { *fixed = nil })
	parts, of := partsOf(out), partsOf(kept)
	if len(parts) != len(of) {
		return nil, Problems{
			{"/parts", "this is a reading of a report over other records; begin a new report to ask about these"},
		}
	}
	for i, p := range parts {
		at := ""
		if len(out.Parts) > 0 {
			at = fmt.Sprintf("/parts/%d", i)
		}
		if p.Start != of[i].Start || p.Key != of[i].Key {
			bad.add(at+"/start", "this is a reading of a report over other records; begin a new report to ask about these")
			continue
		}
		p.compose(of[i], at, &bad)
	}
	if len(bad) > 0 {
		return nil, bad
	}
	return out, nil
}

const fixedThere = "the report's owner fixed a condition on it, so it cannot be another here"

// compose takes a kept part's fixed conditions into a reading's part.
func (p *Part) compose(kept *Part, at string, bad *Problems) {
	_, p.Fixed = split(kept.Filter)
	mine, pointer := p.Bring, at+"/bring"
	for b := kept.Bring; b != nil; b = b.Bring {
		_, fixed := split(b.Where)
		if mine == nil || mine.Link != b.Link || mine.Keeps() != b.Keeps() {
			if fixed != nil || inside(b.Bring) {
				bad.add(pointer, fixedThere)
			}
			break
		}
		mine.Fixed = fixed
		mine, pointer = mine.Bring, pointer+"/bring"
	}
	for _, o := range kept.Own {
		if o.Linked == nil {
			continue
		}
		_, fixed := split(o.Linked.Where)
		for i := range p.Own {
			switch own := &p.Own[i]; {
			case fixed == nil || own.Key != o.Key:
			case own.Linked == nil || own.Linked.Link != o.Linked.Link || own.Linked.Fn != o.Linked.Fn || own.Linked.Of != o.Linked.Of || own.Linked.By != o.Linked.By:
				bad.add(fmt.Sprintf("%s/own/%d", at, i), fixedThere)
			default:
				own.Linked.Fixed = fixed
			}
		}
	}
	for _, s := range kept.Summaries {
		if _, fixed := split(s.Where); fixed != nil {
			composeSummary(p.Summaries, &s, fixed, at, bad)
		}
	}
}

func composeSummary(list []Summary, kept *Summary, fixed *Tree, at string, bad *Problems) {
	for i := range list {
		switch s := &list[i]; {
		case s.Key != kept.Key:
		case s.Fn != kept.Fn || s.Of != kept.Of:
			bad.add(fmt.Sprintf("%s/summaries/%d", at, i), fixedThere)
		default:
			s.Fixed = fixed
		}
	}
}

// inside says whether a bring or one within it has fixed conditions.
func inside(b *Bring) bool { return b != nil && (hasFixed(b.Where) || inside(b.Bring)) }

// partsOf are the parts of a brief: its own members where it has none.
func partsOf(b *Brief) []*Part {
	if len(b.Parts) == 0 {
		return []*Part{&b.Part}
	}
	var list []*Part
	for i := range b.Parts {
		list = append(list, &b.Parts[i])
	}
	return list
}

// split parts a filter into what its readers see and what its owner fixed: of conditions that all hold, those that are
// fixed or have one that is inside them; otherwise all or nothing.
func split(t *Tree) (shown, fixed *Tree) {
	if !hasFixed(t) {
		return t, nil
	}
	if t.All == nil {
		return nil, t
	}
	open, closed := &Tree{All: []Tree{}}, &Tree{}
	for i := range t.All {
		if hasFixed(&t.All[i]) {
			closed.All = append(closed.All, t.All[i])
		} else {
			open.All = append(open.All, t.All[i])
		}
	}
	if len(open.All) == 0 {
		open = nil
	}
	return open, closed
}

func hasFixed(t *Tree) bool { return some(t, func(t *Tree) bool { return t.Fixed }) }

// some says whether a condition, or one inside of it, is of a kind.
func some(t *Tree, is func(t *Tree) bool) bool {
	if t == nil {
		return false
	}
	found := is(t) || some(t.Not, is) || some(t.Where, is)
	for _, list := range [][]Tree{t.All, t.Any} {
		for i := range list {
			found = found || some(&list[i], is)
		}
	}
	return found
}

// each is a copy of a brief in which visit has been at every place that has conditions, with those kept apart from
// them.
func each(b *Brief, visit func(site **Tree, fixed **Tree)) *Brief {
	out := *b
	out.Part = b.each(visit)
	out.Parts = slices.Clone(b.Parts)
	for i := range out.Parts {
		out.Parts[i] = b.Parts[i].each(visit)
	}
	return &out
}

func (p Part) each(visit func(site **Tree, fixed **Tree)) Part {
	visit(&p.Filter, &p.Fixed)
	for from := &p.Bring; *from != nil; from = &(*from).Bring {
		b := **from
		visit(&b.Where, &b.Fixed)
		*from = &b
	}
	p.Own = slices.Clone(p.Own)
	for i := range p.Own {
		if p.Own[i].Linked != nil {
			l := *p.Own[i].Linked
			visit(&l.Where, &l.Fixed)
			p.Own[i].Linked = &l
		}
	}
	p.Summaries = slices.Clone(p.Summaries)
	for i := range p.Summaries {
		visit(&p.Summaries[i].Where, &p.Summaries[i].Fixed)
	}
	return p
}

// Unfixed is a brief whose conditions nobody fixed: everyone reads them.
func Unfixed(b *Brief) *Brief {
	return each(b, func(site **Tree, fixed **Tree) { *site, *fixed = unfixed(*site), nil })
}

func unfixed(t *Tree) *Tree {
	if !hasFixed(t) {
		return t
	}
	out := *t
	out.Fixed, out.Not, out.Where = false, unfixed(t.Not), unfixed(t.Where)
	for _, list := range []*[]Tree{&out.All, &out.Any} {
		*list = slices.Clone(*list)
		for i := range *list {
			(*list)[i] = *unfixed(&(*list)[i])
		}
	}
	return &out
}

// Narrowed says whether conditions hold for a brief that its reader does not see.
func Narrowed(b *Brief) bool {
	found := false
	each(b, func(_ **Tree, fixed **Tree) { found = found || *fixed != nil })
	return found
}
