// Package exact holds the numbers that results are made of: rational numbers that never lose
// a digit, with a fast path for the small ones that nearly every cell is (docs/brief.md, "Numbers").
package exact

import (
	"math"
	"math/big"
	"math/bits"
	"strings"
)

// Num is an exact rational number. The zero value is the number 0.
//
// Small numbers are n/d in machine words; a number that outgrows them is kept as a big.Rat.
// A Num is a value: operations return new ones and never change their operands.
type Num struct {
	n   int64
	d   int64 // 0 stands for 1, so that the zero value is 0
	big *big.Rat
}

// Int returns n as a Num.
func Int(n int64) Num { return Num{n: n} }

// Frac returns n/d; d must be more than zero.
func Frac(n, d int64) Num { return Num{n: n, d: d} }

// Wide returns the 128-bit whole number hi·2⁶⁴+lo divided by d; d must be more than zero.
func Wide(hi int64, lo uint64, d int64) Num {
	if (hi == 0 && lo <= math.MaxInt64) || (hi == -1 && lo >= 1<<63) {
		return Num{n: int64(lo), d: d}
	}
	b := new(big.Int).Lsh(big.NewInt(hi), 64)
	b.Add(b, new(big.Int).SetUint64(lo))
	return shrink(new(big.Rat).SetFrac(b, big.NewInt(d)))
}

func (a Num) den() int64 {
	if a.d == 0 {
		return 1
	}
	return a.d
}

// Rat returns a as a new big.Rat.
func (a Num) Rat() *big.Rat {
	if a.big != nil {
		return new(big.Rat).Set(a.big)
	}
	return big.NewRat(a.n, a.den())
}

func shrink(r *big.Rat) Num {
	if r.Num().IsInt64() && r.Denom().IsInt64() {
		return Num{n: r.Num().Int64(), d: r.Denom().Int64()}
	}
	return Num{big: r}
}

func mul64(a, b int64) (int64, bool) {
	if a == 0 || b == 0 {
		return 0, true
	}
	p := a * b
	if (a == -1 && b == math.MinInt64) || (b == -1 && a == math.MinInt64) || p/b != a {
		return 0, false
	}
	return p, true
}

func add64(a, b int64) (int64, bool) {
	s := a + b
	return s, (s > a) == (b > 0)
}

// Add returns a + b.
func (a Num) Add(b Num) Num {
	if a.big == nil && b.big == nil {
		ad, bd := a.den(), b.den()
		if ad == bd {
			if s, ok := add64(a.n, b.n); ok {
				return Num{n: s, d: ad}
			}
		} else if x, ok := mul64(a.n, bd); ok {
			if y, ok := mul64(b.n, ad); ok {
				if s, ok := add64(x, y); ok {
					if d, ok := mul64(ad, bd); ok {
						return Num{n: s, d: d}
					}
				}
			}
		}
	}
	return shrink(new(big.Rat).Add(a.Rat(), b.Rat()))
}

// Neg returns −a.
func (a Num) Neg() Num {
	if a.big == nil && a.n != math.MinInt64 {
		return Num{n: -a.n, d: a.d}
	}
	return shrink(new(big.Rat).Neg(a.Rat()))
}

// Sub returns a − b.
func (a Num) Sub(b Num) Num { return a.Add(b.Neg()) }

// Mul returns a × b.
func (a Num) Mul(b Num) Num {
	if a.big == nil && b.big == nil {
		if n, ok := mul64(a.n, b.n); ok {
			if d, ok := mul64(a.den(), b.den()); ok {
				return Num{n: n, d: d}
			}
		}
	}
	return shrink(new(big.Rat).Mul(a.Rat(), b.Rat()))
}

// Quo returns a ÷ b and whether there is such a number (b is not 0).
func (a Num) Quo(b Num) (Num, bool) {
	if b.Sign() == 0 {
		return Num{}, false
	}
	if b.big == nil && b.n != math.MinInt64 {
		inv := Num{n: b.den(), d: b.n}
		if b.n < 0 {
			inv = Num{n: -b.den(), d: -b.n}
		}
		return a.Mul(inv), true
	}
	return shrink(new(big.Rat).Quo(a.Rat(), b.Rat())), true
}

// MaxBits is how long a number may be, above and below the line, before Long says that it is long.
const MaxBits = 960

// Long says whether a has more digits than anything that is measured has: nearly three hundred.
func (a Num) Long() bool {
	return a.big != nil && (a.big.Num().BitLen() > MaxBits || a.big.Denom().BitLen() > MaxBits)
}

// Abs returns |a|.
func (a Num) Abs() Num {
	if a.Sign() < 0 {
		return a.Neg()
	}
	return a
}

// Sign is −1, 0 or 1.
func (a Num) Sign() int {
	if a.big != nil {
		return a.big.Sign()
	}
	switch {
	case a.n < 0:
		return -1
	case a.n > 0:
		return 1
	}
	return 0
}

// Cmp compares a with b: −1, 0 or 1.
func (a Num) Cmp(b Num) int {
	if a.big == nil && b.big == nil {
		ad, bd := a.den(), b.den()
		if ad == bd {
			return cmp64(a.n, b.n)
		}
		if sa, sb := a.Sign(), b.Sign(); sa != sb {
			return cmp64(int64(sa), int64(sb))
		}
		ah, al := bits.Mul64(abs64(a.n), uint64(bd))
		bh, bl := bits.Mul64(abs64(b.n), uint64(ad))
		c := cmpU(ah, bh)
		if c == 0 {
			c = cmpU(al, bl)
		}
		if a.n < 0 {
			return -c
		}
		return c
	}
	return a.Rat().Cmp(b.Rat())
}

func cmp64(a, b int64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

func cmpU(a, b uint64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

func abs64(a int64) uint64 {
	if a < 0 {
		return -uint64(a)
	}
	return uint64(a)
}

// Scaled returns a × scale rounded half away from zero to a whole number, and whether it fits.
func (a Num) Scaled(scale int64) (int64, bool) {
	if a.big == nil {
		d := uint64(a.den())
		hi, lo := bits.Mul64(abs64(a.n), uint64(scale))
		if hi < d {
			q, r := bits.Div64(hi, lo, d)
			if r >= d-r {
				q++
			}
			if q <= math.MaxInt64 {
				if a.n < 0 {
					return -int64(q), true
				}
				return int64(q), true
			}
		}
	}
	q := roundBig(new(big.Rat).Mul(a.Rat(), new(big.Rat).SetInt64(scale)))
	if !q.IsInt64() || q.Int64() == math.MinInt64 {
		return 0, false
	}
	return q.Int64(), true
}

func roundBig(r *big.Rat) *big.Int {
	neg := r.Sign() < 0
	n := new(big.Int).Abs(r.Num())
	n.Lsh(n, 1)
	n.Add(n, r.Denom())
	n.Quo(n, new(big.Int).Lsh(r.Denom(), 1))
	if neg {
		n.Neg(n)
	}
	return n
}

// Round rounds half away from zero to a number of decimals (−18 to 18).
func (a Num) Round(decimals int) Num {
	p := int64(1)
	for i := 0; i < decimals || i < -decimals; i++ {
		p *= 10
	}
	scale := Int(p)
	if decimals < 0 {
		scale = Frac(1, p)
	}
	b := a.Mul(scale)
	var whole Num
	if w, ok := b.Scaled(1); ok {
		whole = Int(w)
	} else {
		whole = shrink(new(big.Rat).SetInt(roundBig(b.Rat())))
	}
	q, _ := whole.Quo(scale)
	return q
}

// Float returns the nearest float64, for drawing only.
func (a Num) Float() float64 {
	if a.big == nil {
		return float64(a.n) / float64(a.den())
	}
	f, _ := a.big.Float64()
	return f
}

// Fixed writes a with just that many decimals, rounded half away from zero; minus zero is 0.
func (a Num) Fixed(decimals int) string {
	r := a.Round(decimals).Rat()
	if r.Sign() == 0 {
		r.SetInt64(0)
	}
	return r.FloatString(decimals)
}

// String writes a rounded half away from zero to at most six decimals, trailing zeros cut.
func (a Num) String() string {
	s := a.Fixed(6)
	s = strings.TrimRight(s, "0")
	return strings.TrimSuffix(s, ".")
}

// Parse reads a plain decimal ("-12.5"), with no exponent, sign +, blanks or thousands marks, of at most
// 40 digits. It says whether s is one.
func Parse(s string) (Num, bool) {
	body := strings.TrimPrefix(s, "-")
	if body == "" || len(body) > 40 {
		return Num{}, false
	}
	dot, digits := -1, 0
	for i, c := range body {
		switch {
		case c >= '0' && c <= '9':
			digits++
		case c == '.' && dot < 0:
			dot = i
		default:
			return Num{}, false
		}
	}
	if digits == 0 || dot == 0 || dot == len(body)-1 {
		return Num{}, false
	}
	r, ok := new(big.Rat).SetString(s)
	if !ok {
		return Num{}, false
	}
	return shrink(r), true
}

// ParseScaled reads a plain decimal as a whole number of 1/scale units (scale a power of ten). It refuses
// a number with finer decimals than that, or one that does not fit.
func ParseScaled(s string, scale int64) (int64, bool) {
	a, ok := Parse(s)
	if !ok {
		return 0, false
	}
	b := a.Mul(Int(scale))
	w, ok := b.Scaled(1)
	if !ok || b.Cmp(Int(w)) != 0 {
		return 0, false
	}
	return w, true
}
