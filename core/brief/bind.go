package brief

import (
	"regexp"
	"slices"
	"strconv"
	"unicode/utf8"

	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// Limits of docs/brief.md.
const (
	MaxGroups = 4
	MaxAcross = 2
	MaxParts  = 4
)

type checker struct {
	schema   *schema.Schema
	cal      *period.Calendar
	problems Problems
	rates    map[string][]string // by record type: the dates whose rates its amounts are converted at
	old      []*schema.Field     // retired ones that are read
}

func (c *checker) retired(f *schema.Field) {
	if !slices.Contains(c.old, f) {
		c.old = append(c.old, f)
	}
}

func (c *checker) add(at, format string, args ...any) { c.problems.add(at, format, args...) }

func newChecker(s *schema.Schema) *checker {
	return &checker{schema: s, cal: period.New(s.Zone, s.WeekStart(), s.Settings.FiscalMonth)}
}

// Bind checks a brief against a schema and binds it. All that is wrong comes back as Problems.
func Bind(b *Brief, s *schema.Schema) (*Bound, error) {
	c := newChecker(s)
	if b.Version != Version {
		c.add("/version", "this program reads version %d of the format", Version)
	}
	bound := &Bound{Brief: b, Schema: s, Cal: c.cal}
	if c.sizes(b); len(c.problems) > 0 {
		return nil, c.problems // too large to be looked at further
	}
	c.money(b)
	scopes := c.parts(b, bound)
	if len(c.problems) > 0 && scopes == nil {
		return nil, c.problems
	}
	c.summaries(b, bound, scopes)
	c.groups(b, bound, scopes)
	if len(b.Parts) == 0 {
		c.list(b, bound, scopes[0])
	}
	c.whole(b, bound)
	c.moments(b, bound)
	if len(c.problems) == 0 {
		c.recorded(b, bound)
		bound.amounts()
	}
	if len(c.problems) > 0 {
		return nil, c.problems
	}
	bound.Retired = c.old
	return bound, nil
}

func (c *checker) parts(b *Brief, bound *Bound) []*scope {
	if len(b.Parts) == 0 {
		if b.Parts != nil {
			c.add("/parts", "a brief has two to four parts, or start and no parts")
			return nil
		}
		part, s := c.part(&b.Part, "")
		if s == nil {
			return nil
		}
		bound.Parts = []*BoundPart{part}
		return []*scope{s}
	}
	if len(b.Parts) < 2 || len(b.Parts) > MaxParts {
		c.add("/parts", "a brief has two to four parts")
	}
	for name, set := range map[string]bool{"start": b.Start != "", "bring": b.Bring != nil, "whose": b.Whose != nil, "period": b.Period != nil,
		"filter": b.Filter != nil, "own": b.Own != nil, "columns": b.Columns != nil, "order": b.Order != nil, "limit": b.Limit != nil} {
		if set {
			c.add("/"+name, "%s has no place beside parts", name)
		}
	}
	keys := keySet{c: c, what: "parts"}
	var scopes []*scope
	for i := range b.Parts {
		at := "/parts/" + strconv.Itoa(i)
		keys.take(b.Parts[i].Key, at)
		part, s := c.part(&b.Parts[i], at)
		if s != nil {
			bound.Parts = append(bound.Parts, part)
			scopes = append(scopes, s)
		}
	}
	if len(scopes) < len(b.Parts) {
		return nil
	}
	return scopes
}

var keyRule = regexp.MustCompile(`^[a-z][a-z0-9_]*$`)

type keySet struct {
	c    *checker
	what string
	seen map[string]bool
}

func (k *keySet) take(key, at string) {
	switch {
	case !keyRule.MatchString(key):
		k.c.add(at+"/key", "a key is of small letters, digits and _, beginning with a letter; not %q", key)
	case key == "label":
		k.c.add(at+"/key", "the key \"label\" is taken by the order of groups")
	case k.seen[key]:
		k.c.add(at+"/key", "the key %q stands twice among %s", key, k.what)
	}
	if k.seen == nil {
		k.seen = map[string]bool{}
	}
	k.seen[key] = true
}

func (c *checker) part(p *Part, at string) (*BoundPart, *scope) {
	t := c.schema.Type(p.Start)
	if t == nil {
		known := []string{}
		for _, k := range c.schema.Types {
			known = append(known, k.Key)
		}
		if p.Start == "" {
			c.add(at+"/start", "a report starts from a record type")
		} else {
			c.add(at+"/start", "there is no record type %q%s", p.Start, near(p.Start, known))
		}
		return nil, nil
	}
	bp := &BoundPart{Part: p, At: at, Levels: []*Level{{Type: t, Keep: true}}}
	s := &scope{
		schema:  c.schema,
		levels:  bp.Levels,
		own:     map[string]*Value{},
		open:    map[string]bool{},
		retired: c.retired,
		rates:   c.rates,
	}
	c.bring(p.Bring, s, at+"/bring")
	bp.Levels = s.levels
	bp.Own = c.owns(p.Own, s, at)
	bp.Whose = p.Whose
	if p.Whose != nil && p.Whose.Word != "everyone" && t.Owner == "" {
		c.add(at+"/whose", "%s have no owner", t.Label)
	}
	if p.Period != nil {
		bp.Period = c.periodOf(s, p.Period, at+"/period")
	}
	if p.Filter != nil {
		bp.Filter = c.tree(s, p.Filter, at+"/filter", 1)
	}
	bp.Fixed = c.fixed(s, p.Fixed)
	return bp, s
}

func (c *checker) bring(b *Bring, s *scope, at string) {
	path := ""
	for ; b != nil; b, at = b.Bring, at+"/bring" {
		last := s.levels[len(s.levels)-1]
		back := last.Type.Back(b.Link)
		if back == nil {
			known := []string{}
			for _, k := range last.Type.Backs {
				known = append(known, k.Key)
			}
			c.add(at+"/link", "%s have no link to many %q%s", last.Type.Label, b.Link, near(b.Link, known))
			return
		}
		if len(s.levels) == 3 {
			c.add(at, "one bring may carry one other inside it, no more")
			return
		}
		if path != "" {
			path += "."
		}
		path += b.Link
		level := &Level{Type: c.schema.Type(back.Type), Back: back, Keep: b.Keeps(), Path: path}
		if b.Where != nil {
			level.Where = c.tree(s.inside(level.Type), b.Where, at+"/where", 1)
		}
		level.Fixed = c.fixed(s.inside(level.Type), b.Fixed)
		s.levels = append(s.levels, level)
	}
}

func (c *checker) groups(b *Brief, bound *Bound, scopes []*scope) {
	if len(b.Groups) > MaxGroups {
		c.add("/groups", "a report has four levels of groups at most")
	}
	if len(b.Across) > MaxAcross {
		c.add("/across", "a report goes across by two fields at most")
	}
	for i := range b.Groups {
		c.group(bound, scopes, &b.Groups[i], "/groups/"+strconv.Itoa(i), false)
	}
	bound.Rows = len(bound.Groups)
	for i := range b.Across {
		c.group(bound, scopes, &b.Across[i], "/across/"+strconv.Itoa(i), true)
	}
}

func (c *checker) group(bound *Bound, scopes []*scope, g *Group, at string, across bool) {
	bg := &BoundGroup{Group: g, Across: across, At: at}
	bound.Groups = append(bound.Groups, bg)
	paths, pointers := []string{g.Field}, []string{at + "/field"}
	if len(bound.Parts) > 1 {
		if g.Field != "" {
			c.add(at+"/field", "with parts, a group names a path in each part: \"paths\": {…}")
			return
		}
		paths, pointers = nil, nil
		for _, p := range bound.Parts {
			paths, pointers = append(paths, g.Paths[p.Part.Key]), append(pointers, at+"/paths/"+p.Part.Key)
		}
		for key := range g.Paths {
			if !hasPart(bound, key) {
				c.add(at+"/paths/"+key, "there is no part %q", key)
			}
		}
	} else if g.Paths != nil {
		c.add(at+"/paths", "paths go with parts; here a group has a field")
		return
	}
	for i, path := range paths {
		v, err := scopes[i].value(path)
		switch {
		case err != nil:
			c.add(pointers[i], "%s", err)
			return
		case v.Brought:
			c.add(pointers[i], "%q is a brought link; group by one of its fields", path)
			return
		}
		bg.Values = append(bg.Values, v)
	}
	for i, v := range bg.Values[1:] {
		first := bg.Values[0]
		if days := v.Kind.Dated() && first.Kind.Dated() &&
			g.By != period.ByHour; !days &&
			(v.Kind != first.Kind || v.To != first.To) {
			c.add(pointers[i+1], "the paths of a group are of one kind or lead to one record type")
		}
	}
	c.groupUnit(bg, at)
	c.groupOrder(bound, g, at)
}

func hasPart(bound *Bound, key string) bool {
	for _, p := range bound.Parts {
		if p.Part.Key == key {
			return true
		}
	}
	return false
}

func (c *checker) groupUnit(bg *BoundGroup, at string) {
	g, v := bg.Group, bg.Values[0]
	switch {
	case v.Kind.Dated() && g.By == "":
		c.add(at, "a date groups by a unit: \"by\": \"month\" …")
	case v.Kind.Dated() && !g.By.Known():
		names := []string{}
		for _, u := range period.Units {
			names = append(names, string(u))
		}
		c.add(at+"/by", "unknown unit %q%s", g.By, near(string(g.By), names))
	case !v.Kind.Dated() && g.By != "":
		c.add(at+"/by", "%s is %s; only dates and times have a unit", v.Text, v.Kind.Words())
	case g.By == period.ByHour && v.Kind != schema.Time:
		c.add(at+"/by", "a date has no hours")
	}
	if !g.Every {
		return
	}
	if g.Top != nil {
		c.add(at+"/every", "every and top contradict each other")
	}
	listed := v.Kind.Dated() || v.Kind == schema.YesNo || v.Labelled() ||
		(v.Kind == schema.Choice && v.Field != nil && len(v.Field.Choices) > 0) ||
		(v.Kind == schema.Link && c.schema.Type(v.To).Listed != "")
	if !listed {
		c.add(at+"/every", "%s has no list of all its groups", v.Text)
	}
}

func (c *checker) groupOrder(bound *Bound, g *Group, at string) {
	if g.Order != nil && g.Order.By != "label" && !bound.hasSummary(g.Order.By) {
		c.add(
			at+"/order/by",
			"a group is ordered by label or a summary's key, not %q%s",
			g.Order.By,
			near(g.Order.By, bound.summaryKeys()),
		)
	}
	if g.Top == nil {
		return
	}
	if g.Top.N < 1 {
		c.add(at+"/top/n", "top keeps one group or more")
	}
	if !bound.hasSummary(g.Top.By) {
		c.add(at+"/top/by", "top goes by a summary's key, not %q%s", g.Top.By, near(g.Top.By, bound.summaryKeys()))
	}
	if f := g.Top.From; f != "" && f != "largest" && f != "smallest" {
		c.add(at+"/top/from", "from is largest or smallest, not %q", f)
	}
	if r := g.Top.Rest; r != "" && r != "other" && r != "drop" {
		c.add(at+"/top/rest", "rest is other or drop, not %q", r)
	}
}

func (b *Bound) hasSummary(key string) bool { return has(b.summaryKeys(), key) }

func (b *Bound) summaryKeys() []string {
	keys := make([]string, len(b.Summaries))
	for i, s := range b.Summaries {
		keys[i] = s.Source.Key
	}
	return keys
}

// list checks what the list of records shows and how it is sorted.
func (c *checker) list(b *Brief, bound *Bound, s *scope) {
	find := func(path, at string) *Value {
		v, err := s.value(path)
		if err != nil {
			c.add(at, "%s", err)
		} else if v.Brought {
			c.add(at, "%q is a brought link, not a field", path)
		}
		return v
	}
	for i := range b.Columns {
		at := "/columns/" + strconv.Itoa(i)
		bound.Columns = append(bound.Columns, find(b.Columns[i].Field, at+"/field"))
		c.format(b.Columns[i].Format, at)
	}
	for i := range b.Order {
		bound.Order = append(bound.Order, find(b.Order[i].Field, "/order/"+strconv.Itoa(i)+"/field"))
	}
	if b.Limit != nil && *b.Limit < 1 {
		c.add("/limit", "a limit is one line or more")
	}
}

func (c *checker) format(f *Format, at string) {
	if f == nil {
		return
	}
	if f.Decimals != nil && (*f.Decimals < 0 || *f.Decimals > 6) {
		c.add(at+"/format/decimals", "decimals go from 0 to 6")
	}
	if f.Style != "" && !has([]string{"plain", "percent", "money"}, f.Style) {
		c.add(at+"/format/style", "a style is plain, percent or money, not %q", f.Style)
	}
	if f.Unit != "" && !has([]string{"plain", "K", "M"}, f.Unit) {
		c.add(at+"/format/unit", "a unit is plain, K or M, not %q", f.Unit)
	}
	if f.Date != "" && !has(DateForms, f.Date) {
		c.add(at+"/format/date", "a date form is day, weekday, month or number, not %q", f.Date)
	}
	if f.Width < 0 || f.Width > 1000 {
		c.add(at+"/format/width", "a width goes from 1 to 1000")
	}
}

// targetOf checks that a measure's target can be looked up: by one period, from month to month.
func (c *checker) targetOf(b *Brief, bound *Bound) {
	switch {
	case b.Target != "":
		c.add("/targetOf", "the target is an amount or that of a measure, not both")
	case !keyRule.MatchString(b.TargetOf):
		c.add("/targetOf", "a measure's key is of small letters, digits and _, from a letter on")
	case len(bound.Parts) != 1:
		c.add("/targetOf", "the target of a measure is for one record type; this report has several side by side")
	case bound.Parts[0].Period == nil || !c.cal.Resolve(bound.Parts[0].Period.Within, 0).Closed():
		c.add("/targetOf", "targets are set by month, so the period needs a first and a last day")
	}
	if len(bound.Summaries) > 0 && bound.Summaries[0].Kind.Dated() {
		c.add("/targetOf", "the first summary is a date, which has no target")
	}
}

// whole checks what concerns the whole brief: compare, target and chart.
func (c *checker) whole(b *Brief, bound *Bound) {
	if b.Compare != "" {
		if b.Compare != "previous_period" && b.Compare != "year_before" {
			c.add("/compare", "compare is previous_period or year_before, not %q", b.Compare)
		}
		for _, p := range bound.Parts {
			if p.Period == nil || !c.cal.Resolve(p.Period.Within, 0).Closed() {
				c.add("/compare", "to compare, the period needs a first and a last day")
			}
		}
	}
	if b.Target != "" {
		n, err := parseNum(schema.Number, b.Target)
		if err != nil {
			c.add("/target", "%s", err)
		}
		if len(bound.Summaries) > 0 && bound.Summaries[0].Kind.Dated() {
			c.add("/target", "the first summary is a date, which has no target")
		}
		bound.Target = &n
	}
	if b.TargetOf != "" {
		c.targetOf(b, bound)
	}
	ch := b.Chart
	if ch == nil {
		return
	}
	if !has(ChartKinds, ch.Kind) {
		c.add("/chart/kind", "unknown kind of chart %q%s", ch.Kind, near(ch.Kind, ChartKinds))
	}
	for name, at := range map[string]*int{"category": ch.Category, "series": ch.Series} {
		if at != nil && (*at < 0 || *at >= len(bound.Groups)) {
			c.add("/chart/"+name, "there is no group %d; groups count from 0, then across", *at)
		}
	}
	for i, key := range ch.Values {
		if !bound.hasSummary(key) {
			c.add("/chart/values/"+strconv.Itoa(i), "there is no summary %q%s", key, near(key, bound.summaryKeys()))
		}
	}
	if ch.Measure != "" && ch.Measure != "value" && ch.Measure != "share" {
		c.add("/chart/measure", "a measure is value or share, not %q", ch.Measure)
	}
	if ch.Labels != "" && !has(ChartLabels, ch.Labels) {
		c.add("/chart/labels", "labels are none, values, shares or both, not %q", ch.Labels)
	}
	if ch.Legend != "" && !has(Legends, ch.Legend) {
		c.add("/chart/legend", "a legend stands top, right, below or left, or there is none, not %q", ch.Legend)
	}
	if ch.Guides != "" && !has(Guides, ch.Guides) {
		c.add("/chart/guides", "guides are none, values, both or stripes, not %q", ch.Guides)
	}
	if ch.On != "" && !has(Grounds, ch.On) {
		c.add("/chart/on", "a chart is on paper or ink, or as its reader has it, not %q", ch.On)
	}
	if ch.Totals != "" && !has(ChartTotals, ch.Totals) {
		c.add("/chart/totals", "a chart shows its total, the number of records, both or none, not %q", ch.Totals)
	}
	if err := CheckPalette(ch.Palette); err != nil {
		c.add("/chart/palette", "%s", err)
	}
	if utf8.RuneCountInString(ch.Style) > 200 {
		c.add("/chart/style", "a style’s key has 200 characters at most")
	}
	if ch.Height != 0 && (ch.Height < MinHeight || ch.Height > MaxHeight) {
		c.add("/chart/height", "a chart is %d to %d pixels high", MinHeight, MaxHeight)
	}
	ends := map[string]exact.Num{}
	for name, text := range map[string]string{"from": ch.From, "to": ch.To} {
		if text == "" {
			continue
		}
		n, ok := exact.Parse(text)
		if !ok {
			c.add("/chart/"+name, "an axis ends at a number, not %q", text)
			continue
		}
		ends[name] = n
	}
	if from, to := ends["from"], ends["to"]; len(ends) == 2 && from.Cmp(to) >= 0 {
		c.add("/chart/to", "the axis ends before it begins")
	}
	for name, text := range map[string]string{"heading": ch.Heading, "below": ch.Below, "source": ch.Source, "valueTitle": ch.ValueTitle, "groupTitle": ch.GroupTitle} {
		if utf8.RuneCountInString(text) > 200 {
			c.add("/chart/"+name, "a text on a chart has 200 characters at most")
		}
	}
}
