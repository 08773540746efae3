package brief

import (
	"fmt"
	"regexp"
	"strconv"

	"uzzel/core/column"
	"uzzel/core/schema"
)

var ownPath = regexp.MustCompile(`\bown\.([a-z][a-z0-9_]*)`)

var summaryFns = []string{"count", "filled", "distinct", "sum", "average", "median", "min", "max"}

var shows = []string{
	"value",
	"percent_of_total",
	"percent_of_parent",
	"percent_of_row",
	"percent_of_column",
	"running_total",
	"change",
}

// summaries binds those of every part, then the outer ones, then the formulas over them.
func (c *checker) summaries(b *Brief, bound *Bound, scopes []*scope) {
	keys := keySet{c: c, what: "summaries"}
	at := []string{}
	addAll := func(list []Summary, part int, base string) {
		for i := range list {
			here := base + "/summaries/" + strconv.Itoa(i)
			keys.take(list[i].Key, here)
			bound.Summaries = append(
				bound.Summaries,
				&BoundSummary{Source: &list[i], Part: part, Kind: schema.Number, Scale: 1, At: here},
			)
			at = append(at, here)
		}
	}
	fallback := []Summary{DefaultSummary}
	if len(b.Parts) > 0 {
		for i := range b.Parts {
			list := b.Parts[i].Summaries
			if len(list) == 0 {
				list = fallback
			}
			addAll(list, i, "/parts/"+strconv.Itoa(i))
		}
		addAll(b.Summaries, -1, "")
	} else {
		list := b.Summaries
		if len(list) == 0 {
			list = fallback
		}
		addAll(list, 0, "")
	}
	for i, sum := range bound.Summaries {
		if sum.Source.Formula == "" {
			c.plain(sum, scopes, at[i])
		}
	}
	c.formulas(bound, at)
	for i, sum := range bound.Summaries {
		c.show(sum, at[i])
		c.format(sum.Source.Format, at[i])
	}
}

func (c *checker) plain(sum *BoundSummary, scopes []*scope, at string) {
	src := sum.Source
	if sum.Part < 0 {
		c.add(at, "beside parts, the outer summaries are formulas over the parts' ones")
		return
	}
	s := scopes[sum.Part]
	if src.Where != nil {
		sum.Where = c.tree(s, src.Where, at+"/where", 1)
	}
	sum.Fixed = c.fixed(s, src.Fixed)
	if !has(summaryFns, src.Fn) {
		c.add(at+"/fn", "unknown function %q%s", src.Fn, near(src.Fn, summaryFns))
		return
	}
	if src.Of == "" {
		if src.Fn != "count" {
			c.add(at, "%s needs of: the path of what it works on", src.Fn)
		}
		return
	}
	of, err := s.value(src.Of)
	if err != nil {
		c.add(at+"/of", "%s", err)
		return
	}
	sum.Of = of
	switch {
	case src.Fn == "count":
		if !of.Brought {
			c.add(at+"/of", "count takes no of, or a brought link; to count filled values of %s use filled", src.Of)
		}
	case of.Brought:
		c.add(at+"/of", "%q is a brought link; only count works on it", src.Of)
	case src.Fn == "filled" || src.Fn == "distinct":
	default:
		if c.takes(src.Fn, of, at+"/of") {
			sum.Kind, sum.Scale = of.Kind, of.Scale
		}
	}
}

func (c *checker) formulas(bound *Bound, at []string) {
	places := map[string]int{}
	for i, sum := range bound.Summaries {
		places[sum.Source.Key] = i
	}
	state := make([]int, len(bound.Summaries)) // 0 not yet, 1 being read, 2 done
	var read func(i int)
	read = func(i int) {
		sum := bound.Summaries[i]
		src := sum.Source
		if src.Formula == "" || state[i] == 2 {
			state[i] = 2
			return
		}
		state[i] = 1
		if src.Fn != "" || src.Of != "" || src.Where != nil {
			c.add(at[i], "a formula summary has no fn, of or where")
		}
		f, err := ParseFormula(src.Formula, func(name string) (Sort, error) {
			j, ok := places[name]
			switch {
			case !ok:
				return 0, fmt.Errorf("there is no summary %q%s", name, near(name, bound.summaryKeys()))
			case sum.Part >= 0 && bound.Summaries[j].Part != sum.Part:
				return 0, fmt.Errorf("%q is of another part; formulas over several parts stand in the outer summaries", name)
			case state[j] == 1:
				return 0, fmt.Errorf("%q is worked out from itself", name)
			}
			read(j)
			sum.Refs = append(sum.Refs, j)
			return sortOf(bound.Summaries[j].Kind)
		})
		state[i] = 2
		if err != nil {
			c.add(at[i]+"/formula", "%s", err)
			return
		}
		sum.Formula, sum.Scale = f, column.Micro
	}
	for i := range bound.Summaries {
		read(i)
	}
}

func (c *checker) show(sum *BoundSummary, at string) {
	src := sum.Source
	switch {
	case src.Show == "" || src.Show == "value":
	case !has(shows, src.Show):
		c.add(at+"/show", "unknown way to show %q%s", src.Show, near(src.Show, shows))
	case sum.Kind.Dated():
		c.add(at+"/show", "a date has no shares and no running total")
	case src.Show == "running_total" && !has([]string{"count", "filled", "distinct", "sum"}, src.Fn):
		c.add(at+"/show", "only counts and sums have a running total")
	}
}
