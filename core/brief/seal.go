package brief

// Unsaid stands where a condition is that its owner fixed and the reader does not see.
const Unsaid = "what its owner fixed"

// Each gives a copy of a brief in which change has been at every condition of its filters, outermost first. change may
// alter what it is given; what it returns is not gone into.
func Each(b *Brief, change func(t Tree) (Tree, bool)) *Brief {
	out := *b
	out.Filter = each(b.Filter, change)
	out.Parts = append([]Part(nil), b.Parts...)
	for i := range out.Parts {
		out.Parts[i].Filter = each(out.Parts[i].Filter, change)
	}
	return &out
}

func each(t *Tree, change func(t Tree) (Tree, bool)) *Tree {
	if t == nil {
		return nil
	}
	if next, done := change(*t); done {
		return &next
	}
	out := *t
	all := func(list []Tree) []Tree {
		if list == nil {
			return nil
		}
		copied := make([]Tree, len(list))
		for i := range list {
			copied[i] = *each(&list[i], change)
		}
		return copied
	}
	out.All, out.Any, out.Not = all(t.All), all(t.Any), each(t.Not, change)
	return &out
}

// HideFixed gives a copy of a brief whose fixed conditions are not said: what readers get.
func HideFixed(b *Brief) *Brief {
	return Each(b, func(t Tree) (Tree, bool) {
		t.Hidden = t.Hidden || t.Fixed
		return t, t.Fixed
	})
}
