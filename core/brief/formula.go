package brief

import (
	"errors"
	"fmt"
	"strings"

	"github.com/alecthomas/participle/v2"
	"github.com/alecthomas/participle/v2/lexer"

	"uzzel/core/exact"
	"uzzel/core/schema"
)

// Sort is the kind of value that a part of a formula has.
type Sort int

// The sorts of docs/brief.md, "Own fields".
const (
	NumberSort Sort = iota
	TruthSort
	DaySort
	TextSort
)

func (s Sort) String() string { return [...]string{"a number", "a condition", "a date", "text"}[s] }

// Expr is one part of a checked formula.
type Expr struct {
	// Op is num, text, ref, today, neg, not, and, or, + - * /, == != < <= > >=, or a function's name.
	Op   string
	Args []*Expr
	Num  exact.Num
	Text string // folded, for text
	Ref  int    // which reference
	Sort Sort
}

// Ref is something a formula reads, found by name.
type Ref struct {
	Name string
	Sort Sort
}

// MaxFormula is the longest formula in bytes.
const MaxFormula = 2000

var formulaLexer = lexer.MustSimple([]lexer.SimpleRule{
	{Name: "Number", Pattern: `\d+(\.\d+)?`},
	{Name: "Text", Pattern: `"[^"]*"`},
	{Name: "Name", Pattern: `[a-z][a-z0-9_]*(\.[a-z][a-z0-9_]*)*`},
	{Name: "Op", Pattern: `==|!=|<=|>=|[-+*/(),<>]`},
	{Name: "Space", Pattern: `\s+`},
})

// The grammar, loosest binding first.
type (
	orG struct {
		Left *andG   `parser:"@@"`
		Rest []*andG `parser:"( 'or' @@ )*"`
	}
	andG struct {
		Left *notG   `parser:"@@"`
		Rest []*notG `parser:"( 'and' @@ )*"`
	}
	notG struct {
		Not *notG  `parser:"  'not' @@"`
		Cmp *compG `parser:"| @@"`
	}
	compG struct {
		Left  *sumG  `parser:"@@"`
		Op    string `parser:"( @( '==' | '!=' | '<=' | '>=' | '<' | '>' )"`
		Right *sumG  `parser:"  @@ )?"`
	}
	sumG struct {
		Left *productG `parser:"@@"`
		Rest []*sumOp  `parser:"@@*"`
	}
	sumOp struct {
		Op    string    `parser:"@( '+' | '-' )"`
		Right *productG `parser:"@@"`
	}
	productG struct {
		Left *unaryG      `parser:"@@"`
		Rest []*productOp `parser:"@@*"`
	}
	productOp struct {
		Op    string  `parser:"@( '*' | '/' )"`
		Right *unaryG `parser:"@@"`
	}
	unaryG struct {
		Neg  *unaryG `parser:"  '-' @@"`
		Atom *atomG  `parser:"| @@"`
	}
	atomG struct {
		Pos    lexer.Position
		Number *string `parser:"  @Number"`
		Text   *string `parser:"| @Text"`
		Call   *callG  `parser:"| @@"`
		Name   *string `parser:"| @Name"`
		Inner  *orG    `parser:"| '(' @@ ')'"`
	}
	callG struct {
		Name string `parser:"@Name '('"`
		Args []*orG `parser:"( @@ ( ',' @@ )* )? ')'"`
	}
)

var formulaParser = participle.MustBuild[orG](
	participle.Lexer(formulaLexer),
	participle.Elide("Space"),
	participle.UseLookahead(2),
)

// Formula is a parsed and checked formula.
type Formula struct {
	Root *Expr
	Refs []Ref
}

type formulaCheck struct {
	find func(name string) (Sort, error)
	refs []Ref
}

// UngrammaticalError says where a text stops being a formula: what comes before Offset, in bytes, may be one.
type UngrammaticalError struct {
	Offset int
	text   string
}

func (e *UngrammaticalError) Error() string { return e.text }

// ParseFormula reads a formula; find says of what sort a name is, or why it cannot be read here. The outcome of a
// formula is a number.
func ParseFormula(text string, find func(name string) (Sort, error)) (*Formula, error) {
	if len(text) > MaxFormula {
		return nil, fmt.Errorf("the formula is longer than %d characters", MaxFormula)
	}
	if strings.Count(text, "(") > 60 || strings.Count(text, "not") > 60 {
		return nil, fmt.Errorf("the formula has more than sixty brackets")
	}
	tree, err := formulaParser.ParseString("", text)
	if err != nil {
		var p participle.Error
		if errors.As(err, &p) {
			return nil, &UngrammaticalError{
				Offset: p.Position().Offset,
				text:   fmt.Sprintf("at character %d: %s", p.Position().Column, p.Message()),
			}
		}
		return nil, err
	}
	c := &formulaCheck{find: find}
	root, err := c.or(tree)
	if err != nil {
		return nil, err
	}
	if root.Sort != NumberSort {
		return nil, fmt.Errorf(
			"the outcome is %s; a formula gives a number, with if(condition, a, b) where need be",
			root.Sort,
		)
	}
	return &Formula{root, c.refs}, nil
}

func (c *formulaCheck) or(g *orG) (*Expr, error) {
	left, err := c.and(g.Left)
	for _, r := range g.Rest {
		if err != nil {
			return nil, err
		}
		var right *Expr
		if right, err = c.and(r); err == nil {
			left, err = c.truths("or", left, right)
		}
	}
	return left, err
}

func (c *formulaCheck) and(g *andG) (*Expr, error) {
	left, err := c.not(g.Left)
	for _, r := range g.Rest {
		if err != nil {
			return nil, err
		}
		var right *Expr
		if right, err = c.not(r); err == nil {
			left, err = c.truths("and", left, right)
		}
	}
	return left, err
}

func (c *formulaCheck) truths(op string, args ...*Expr) (*Expr, error) {
	for _, a := range args {
		if a.Sort != TruthSort {
			return nil, fmt.Errorf("%q joins conditions, and this is %s", op, a.Sort)
		}
	}
	return &Expr{Op: op, Args: args, Sort: TruthSort}, nil
}

func (c *formulaCheck) not(g *notG) (*Expr, error) {
	if g.Not == nil {
		return c.compare(g.Cmp)
	}
	inner, err := c.not(g.Not)
	if err != nil {
		return nil, err
	}
	return c.truths("not", inner)
}

func (c *formulaCheck) compare(g *compG) (*Expr, error) {
	left, err := c.sum(g.Left)
	if err != nil || g.Op == "" {
		return left, err
	}
	right, err := c.sum(g.Right)
	if err != nil {
		return nil, err
	}
	if left.Sort != right.Sort {
		return nil, fmt.Errorf("%q compares %s with %s", g.Op, left.Sort, right.Sort)
	}
	if (left.Sort == TextSort || left.Sort == TruthSort) && g.Op != "==" && g.Op != "!=" {
		return nil, fmt.Errorf("%s compares with == and != only", left.Sort)
	}
	if left.Sort == TextSort && left.Op == "ref" && right.Op == "ref" {
		return nil, fmt.Errorf("text compares with text in double quotes")
	}
	return &Expr{Op: g.Op, Args: []*Expr{left, right}, Sort: TruthSort}, nil
}

func (c *formulaCheck) numbers(op string, args ...*Expr) (*Expr, error) {
	for _, a := range args {
		if a.Sort != NumberSort {
			return nil, fmt.Errorf("%q works on numbers, and this is %s", op, a.Sort)
		}
	}
	return &Expr{Op: op, Args: args}, nil
}

func (c *formulaCheck) sum(g *sumG) (*Expr, error) {
	left, err := c.product(g.Left)
	for _, r := range g.Rest {
		if err != nil {
			return nil, err
		}
		var right *Expr
		if right, err = c.product(r.Right); err == nil {
			left, err = c.numbers(r.Op, left, right)
		}
	}
	return left, err
}

func (c *formulaCheck) product(g *productG) (*Expr, error) {
	left, err := c.unary(g.Left)
	for _, r := range g.Rest {
		if err != nil {
			return nil, err
		}
		var right *Expr
		if right, err = c.unary(r.Right); err == nil {
			left, err = c.numbers(r.Op, left, right)
		}
	}
	return left, err
}

func (c *formulaCheck) unary(g *unaryG) (*Expr, error) {
	if g.Neg == nil {
		return c.atom(g.Atom)
	}
	inner, err := c.unary(g.Neg)
	if err != nil {
		return nil, err
	}
	return c.numbers("neg", inner)
}

func (c *formulaCheck) atom(g *atomG) (*Expr, error) {
	switch {
	case g.Number != nil:
		n, ok := exact.Parse(*g.Number)
		if !ok {
			return nil, fmt.Errorf("%s has too many digits", *g.Number)
		}
		return &Expr{Op: "num", Num: n}, nil
	case g.Text != nil:
		return &Expr{Op: "text", Text: strings.Trim(*g.Text, `"`), Sort: TextSort}, nil
	case g.Call != nil:
		return c.call(g.Call)
	case g.Inner != nil:
		return c.or(g.Inner)
	}
	return c.name(*g.Name)
}

func (c *formulaCheck) name(name string) (*Expr, error) {
	for i, r := range c.refs {
		if r.Name == name {
			return &Expr{Op: "ref", Ref: i, Sort: r.Sort}, nil
		}
	}
	sort, err := c.find(name)
	if err != nil {
		return nil, err
	}
	c.refs = append(c.refs, Ref{name, sort})
	return &Expr{Op: "ref", Ref: len(c.refs) - 1, Sort: sort}, nil
}

var functionArgs = map[string]int{
	"min":          2,
	"max":          2,
	"abs":          1,
	"round":        2,
	"if":           3,
	"first_filled": 2,
	"days":         2,
	"today":        0,
}

func (c *formulaCheck) call(g *callG) (*Expr, error) {
	want, ok := functionArgs[g.Name]
	if !ok {
		known := []string{}
		for f := range functionArgs {
			known = append(known, f)
		}
		return nil, fmt.Errorf("there is no function %q%s", g.Name, near(g.Name, known))
	}
	if len(g.Args) != want {
		return nil, fmt.Errorf("%s takes %d values, not %d", g.Name, want, len(g.Args))
	}
	args := make([]*Expr, want)
	for i, a := range g.Args {
		arg, err := c.or(a)
		if err != nil {
			return nil, err
		}
		args[i] = arg
	}
	switch g.Name {
	case "today":
		return &Expr{Op: "today", Sort: DaySort}, nil
	case "days":
		if args[0].Sort != DaySort || args[1].Sort != DaySort {
			return nil, fmt.Errorf("days counts between two dates or times")
		}
		return &Expr{Op: "days", Args: args}, nil
	case "if":
		if args[0].Sort != TruthSort {
			return nil, fmt.Errorf("the first value of if is a condition, and this is %s", args[0].Sort)
		}
		return sameSort("if", args, args[1], args[2])
	case "first_filled":
		return sameSort("first_filled", args, args[0], args[1])
	case "round":
		decimals, ok := wholeLiteral(args[1])
		if !ok || decimals < -12 || decimals > 6 {
			return nil, fmt.Errorf("the second value of round is a whole number from -12 to 6")
		}
	}
	return c.numbers(g.Name, args...)
}

func wholeLiteral(e *Expr) (int, bool) {
	sign := 1
	if e.Op == "neg" {
		sign, e = -1, e.Args[0]
	}
	n, ok := e.Num.Scaled(1)
	return sign * int(n), ok && e.Op == "num" && exact.Int(n).Cmp(e.Num) == 0
}

func sameSort(op string, args []*Expr, a, b *Expr) (*Expr, error) {
	if a.Sort != b.Sort || (a.Sort != NumberSort && a.Sort != DaySort) {
		return nil, fmt.Errorf("%s chooses between two numbers or two dates, not %s and %s", op, a.Sort, b.Sort)
	}
	return &Expr{Op: op, Args: args, Sort: a.Sort}, nil
}

func sortOf(k schema.Kind) (Sort, error) {
	switch {
	case k.Numeric():
		return NumberSort, nil
	case k.Dated():
		return DaySort, nil
	case k == schema.YesNo:
		return TruthSort, nil
	case k.Coded():
		return TextSort, nil
	}
	return 0, fmt.Errorf("%s cannot stand in a formula", k.Words())
}
