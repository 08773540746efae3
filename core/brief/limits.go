package brief

import (
	"fmt"
	"strconv"
)

// Limits of what one report may hold (docs/limits.md): far more than a person would read, few enough to be worked out.
const (
	MaxOwn        = 60     // own fields in all
	MaxSummaries  = 60     // summaries in all
	MaxColumns    = 200    // columns, and keys of the order
	MaxConditions = 500    // conditions in all
	MaxValues     = 20_000 // values in all conditions and merged sets
	MaxLinkDepth  = 12     // conditions on links, one inside the where of another
	MaxText       = 10_000 // bytes of one text
)

// counter counts what a brief holds, and says where it holds too much.
type counter struct {
	c                                *checker
	own, summaries, conds, valueList int
}

// sizes refuses what is too large, before anything is made of it.
func (c *checker) sizes(b *Brief) {
	n := counter{c: c}
	for i := range b.Parts {
		n.part(&b.Parts[i], "/parts/"+strconv.Itoa(i))
	}
	n.part(&b.Part, "")
	n.most(len(b.Columns), "/columns")
	n.most(len(b.Order), "/order")
}

func (n *counter) most(size int, at string) {
	if size > MaxColumns {
		n.c.add(at, "a report has %d of these at most, not %d", MaxColumns, size)
	}
}

func (n *counter) part(p *Part, at string) {
	n.tree(p.Filter, at+"/filter", 0)
	n.tree(p.Fixed, "", 0)
	pointer := at + "/bring"
	for b := p.Bring; b != nil; b = b.Bring {
		n.tree(b.Where, pointer+"/where", 0)
		n.tree(b.Fixed, "", 0)
		pointer += "/bring"
	}
	if n.own += len(p.Own); n.own > MaxOwn {
		n.c.add(at+"/own", "a report has %d own fields at most, not %d", MaxOwn, n.own)
	}
	for i := range p.Own {
		here := fmt.Sprintf("%s/own/%d", at, i)
		switch o := &p.Own[i]; {
		case o.Linked != nil:
			n.tree(o.Linked.Where, here+"/linked/where", 1)
			n.tree(o.Linked.Fixed, "", 1)
		case o.Merge != nil:
			for _, set := range o.Merge.Sets {
				n.values(len(set.Values), here+"/merge/sets")
			}
		}
	}
	if n.summaries += len(p.Summaries); n.summaries > MaxSummaries {
		n.c.add(at+"/summaries", "a report has %d summaries at most, not %d", MaxSummaries, n.summaries)
	}
	for i := range p.Summaries {
		n.tree(p.Summaries[i].Where, fmt.Sprintf("%s/summaries/%d/where", at, i), 0)
		n.tree(p.Summaries[i].Fixed, "", 0)
	}
}

func (n *counter) values(more int, at string) {
	before := n.valueList
	if n.valueList += more; n.valueList > MaxValues && before <= MaxValues {
		n.c.add(at, "a report names %d values at most; ask for what they have in common instead", MaxValues)
	}
}

func (n *counter) tree(t *Tree, at string, links int) {
	if t == nil || len(n.c.problems) > 50 {
		return
	}
	n.conds++
	if n.conds == MaxConditions+1 {
		n.c.add(at, "a report has %d conditions at most", MaxConditions)
	}
	if n.conds > MaxConditions {
		return
	}
	n.values(len(t.Values), at+"/values")
	if t.Link != "" {
		if links++; links > MaxLinkDepth {
			n.c.add(at, "conditions on links stand %d deep inside one another at most", MaxLinkDepth)
			return
		}
	}
	n.tree(t.Not, at+"/not", links)
	n.tree(t.Where, at+"/where", links)
	for i := range t.All {
		n.tree(&t.All[i], at+"/all/"+strconv.Itoa(i), links)
	}
	for i := range t.Any {
		n.tree(&t.Any[i], at+"/any/"+strconv.Itoa(i), links)
	}
}
