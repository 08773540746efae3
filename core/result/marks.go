package result

// Mark names one cell of a result by the keys of its groups, over rows and across; a mark that names fewer groups
// than there are is a subtotal, one that names none the grand total.
type Mark struct {
	Rows   []string `json:"rows"`
	Across []string `json:"across"`
}

// Keys of the groups that are no value.
const (
	BlankKey  = "~blank"
	OtherKey  = "~other"
	HiddenKey = "~hidden"
)

// KeyOf is how a mark names a group (Names.Key).
func (r *Result) KeyOf(row bool, n int) string {
	if row {
		return r.names.Key(r.Rows[n].Depth-1, r.Rows[n].Member)
	}
	return r.names.Key(r.Bound.Rows+r.Cols[n].Depth-1, r.Cols[n].Member)
}

// Keys is how a mark names a node: the keys of its groups, from the outermost in; none for the total.
func (r *Result) Keys(row bool, n int) []string {
	nodes := r.Cols
	if row {
		nodes = r.Rows
	}
	list := make([]string, nodes[n].Depth)
	for ; n > 0; n = nodes[n].Parent {
		list[nodes[n].Depth-1] = r.KeyOf(row, n)
	}
	return list
}
