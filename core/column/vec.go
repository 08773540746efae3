// Package column keeps records as typed columns in memory: codes for text and choices, whole numbers for money and
// days, row numbers for links. Rows of a table are in the order of their ids (docs/brief.md, "Running one without
// the interface"), so that a row number is also its index among ids.
package column

import (
	"math"
	"slices"
)

// Null stands for an empty value wherever values are handed on as int64.
const Null = math.MinInt64

// A vector is cut into chunks, so that changing values copies their chunks, each once, and older snapshots keep theirs.
const (
	shift     = 14
	chunkSize = 1 << shift
	chunkMask = chunkSize - 1
)

type vec[T any] struct {
	chunks [][]T
	n      int
	own    []bool // while it is open: the chunks that no other vector has
}

func (v *vec[T]) at(i int32) T { return v.chunks[i>>shift][i&chunkMask] }

func (v *vec[T]) push(x T) {
	if v.n&chunkMask == 0 {
		v.chunks = append(v.chunks, nil)
	}
	last := &v.chunks[len(v.chunks)-1]
	*last = append(*last, x)
	v.n++
}

// open is a copy that can be written to; it shares with v every chunk that is not.
func (v *vec[T]) open() vec[T] {
	return vec[T]{slices.Clone(v.chunks), v.n, make([]bool, len(v.chunks))}
}

// set has value i be x in an open vector, one more where it is as long as i.
func (v *vec[T]) set(i int32, x T) {
	c, o := int(i>>shift), int(i&chunkMask)
	switch {
	case c == len(v.chunks):
		v.chunks, v.own = append(v.chunks, nil), append(v.own, true)
	case !v.own[c]:
		chunk := make([]T, len(v.chunks[c]), min(chunkSize, len(v.chunks[c])+1))
		copy(chunk, v.chunks[c])
		v.chunks[c], v.own[c] = chunk, true
	}
	if int(i) == v.n {
		v.chunks[c], v.n = append(v.chunks[c], x), v.n+1
	} else {
		v.chunks[c][o] = x
	}
}

// begin is a vector of the first chunks, which are whole and are shared.
func (v *vec[T]) begin(chunks int) vec[T] {
	return vec[T]{chunks: slices.Clone(v.chunks[:chunks]), n: chunks << shift}
}

const (
	null8  = math.MaxUint8
	null32 = math.MinInt32
)

// Ints is a vector of whole numbers with empties, kept in as few bytes each as the values allow.
type Ints struct {
	width int   // 1, 4 or 8 bytes
	unit  int64 // values are kept divided by unit
	b     vec[uint8]
	w     vec[int32]
	l     vec[int64]

	isOpen bool // its values can be set
}

// NewInts makes an empty vector. unit says that most values are multiples of it.
func NewInts(unit int64) *Ints { return &Ints{width: 1, unit: unit} }

// Len is the number of values.
func (s *Ints) Len() int {
	switch s.width {
	case 1:
		return s.b.n
	case 4:
		return s.w.n
	}
	return s.l.n
}

// Bytes is the memory that the values take.
func (s *Ints) Bytes() int64 { return int64(s.Len()) * int64(s.width) }

func (s *Ints) fits(v int64) bool {
	if v == Null {
		return true
	}
	if s.unit > 1 && v%s.unit != 0 {
		return false
	}
	v /= s.unit
	switch s.width {
	case 1:
		return v >= 0 && v < null8
	case 4:
		return v > null32 && v <= math.MaxInt32
	}
	return true
}

// widen is the same vector with room for v.
func (s *Ints) widen(v int64) *Ints {
	wide := &Ints{width: s.width, unit: s.unit}
	if wide.unit > 1 && v%wide.unit != 0 {
		wide.unit = 1
	}
	n := s.Len()
	for {
		wide.width = min(8, wide.width+4-wide.width%4)
		if wide.fits(v) && s.allFit(wide) {
			break
		}
	}
	for i := 0; i < n; i++ {
		wide.put(s.At(int32(i)))
	}
	return wide
}

func (s *Ints) allFit(wide *Ints) bool {
	if wide.width == 8 || s.unit == wide.unit {
		return true
	}
	for i, n := 0, s.Len(); i < n; i++ {
		if !wide.fits(s.At(int32(i))) {
			return false
		}
	}
	return true
}

// small, word and long are a value as it is kept in one, four and eight bytes.
func (s *Ints) small(v int64) uint8 {
	if v == Null {
		return null8
	}
	return uint8(v / s.unit)
}

func (s *Ints) word(v int64) int32 {
	if v == Null {
		return null32
	}
	return int32(v / s.unit)
}

func (s *Ints) long(v int64) int64 {
	if v == Null {
		return Null
	}
	return v / s.unit
}

func (s *Ints) put(v int64) {
	switch s.width {
	case 1:
		s.b.push(s.small(v))
	case 4:
		s.w.push(s.word(v))
	default:
		s.l.push(s.long(v))
	}
}

// Append adds a value while the vector is being built.
func (s *Ints) Append(v int64) {
	if !s.fits(v) {
		*s = *s.widen(v)
	}
	s.put(v)
}

// Extend adds values while the vector is being built.
func (s *Ints) Extend(vals []int64) {
	if s.unit == 1 {
		lo, hi := int64(math.MaxInt64), int64(math.MinInt64)
		for _, v := range vals {
			if v != Null {
				lo, hi = min(lo, v), max(hi, v)
			}
		}
		for _, v := range []int64{lo, hi} {
			if lo <= hi && !s.fits(v) {
				*s = *s.widen(v)
			}
		}
	} else {
		for _, v := range vals {
			if !s.fits(v) {
				*s = *s.widen(v)
			}
		}
	}
	switch s.width {
	case 1:
		extend(&s.b, vals, s.small)
	case 4:
		extend(&s.w, vals, s.word)
	default:
		extend(&s.l, vals, s.long)
	}
}

func extend[T any](v *vec[T], vals []int64, kept func(v int64) T) {
	for len(vals) > 0 {
		if v.n&chunkMask == 0 {
			v.chunks = append(v.chunks, make([]T, 0, min(len(vals), chunkSize)))
		}
		last := &v.chunks[len(v.chunks)-1]
		n := min(len(vals), chunkSize-len(*last))
		chunk := slices.Grow(*last, n)
		for _, x := range vals[:n] {
			chunk = append(chunk, kept(x))
		}
		*last = chunk
		v.n += n
		vals = vals[n:]
	}
}

// With is a vector in which value i is v. A vector as long as i gets one more.
func (s *Ints) With(i int32, v int64) *Ints {
	next := s.open()
	next.set(i, v)
	next.seal()
	return next
}

// open is a copy whose values can be set; it shares with s every chunk in which none is. It is sealed before others read
// it.
func (s *Ints) open() *Ints {
	next := &Ints{width: s.width, unit: s.unit, isOpen: true}
	switch s.width {
	case 1:
		next.b = s.b.open()
	case 4:
		next.w = s.w.open()
	default:
		next.l = s.l.open()
	}
	return next
}

// begin is a vector of the first chunks, which are whole and are shared, that can be built on.
func (s *Ints) begin(chunks int) *Ints {
	next := &Ints{width: s.width, unit: s.unit}
	switch s.width {
	case 1:
		next.b = s.b.begin(chunks)
	case 4:
		next.w = s.w.begin(chunks)
	default:
		next.l = s.l.begin(chunks)
	}
	return next
}

// set has value i of an open vector be v; a vector as long as i gets one more.
func (s *Ints) set(i int32, v int64) {
	if !s.fits(v) {
		*s = *s.widen(v).open() // of what is no other's, chunks are copied once more at most
	}
	switch s.width {
	case 1:
		s.b.set(i, s.small(v))
	case 4:
		s.w.set(i, s.word(v))
	default:
		s.l.set(i, s.long(v))
	}
}

// seal ends that values are set: from now on it is shared, and never changes.
func (s *Ints) seal() { s.isOpen, s.b.own, s.w.own, s.l.own = false, nil, nil, nil }

// At is value i.
func (s *Ints) At(i int32) int64 {
	switch s.width {
	case 1:
		if x := s.b.at(i); x != null8 {
			return int64(x) * s.unit
		}
		return Null
	case 4:
		if x := s.w.at(i); x != null32 {
			return int64(x) * s.unit
		}
		return Null
	}
	if x := s.l.at(i); x != Null {
		return x * s.unit
	}
	return Null
}

// Gather reads the values of rows into out; row −1 is empty.
func (s *Ints) Gather(rows []int32, out []int64) {
	out = out[:len(rows)]
	unit := s.unit
	switch s.width {
	case 1:
		for i, r := range rows {
			out[i] = Null
			if r >= 0 {
				if x := s.b.chunks[r>>shift][r&chunkMask]; x != null8 {
					out[i] = int64(x) * unit
				}
			}
		}
	case 4:
		for i, r := range rows {
			out[i] = Null
			if r >= 0 {
				if x := s.w.chunks[r>>shift][r&chunkMask]; x != null32 {
					out[i] = int64(x) * unit
				}
			}
		}
	default:
		for i, r := range rows {
			out[i] = Null
			if r >= 0 {
				if x := s.l.chunks[r>>shift][r&chunkMask]; x != Null {
					out[i] = x * unit
				}
			}
		}
	}
}

// Run reads the len(out) values from row first on.
func (s *Ints) Run(first int32, out []int64) {
	unit := s.unit
	for len(out) > 0 {
		c, o := first>>shift, int(first&chunkMask)
		n := min(len(out), chunkSize-o)
		part := out[:n]
		switch s.width {
		case 1:
			for i, x := range s.b.chunks[c][o : o+n][:len(part)] {
				v := int64(x) * unit
				if x == null8 {
					v = Null
				}
				part[i] = v
			}
		case 4:
			for i, x := range s.w.chunks[c][o : o+n][:len(part)] {
				v := int64(x) * unit
				if x == null32 {
					v = Null
				}
				part[i] = v
			}
		default:
			for i, x := range s.l.chunks[c][o : o+n][:len(part)] {
				v := x * unit
				if x == Null {
					v = Null
				}
				part[i] = v
			}
		}
		out, first = out[n:], first+int32(n)
	}
}

// Within marks which of the len(out) values from row first on lie from lo to hi. lo is more than Null.
func (s *Ints) Within(first int32, lo, hi int64, out []bool) {
	lo, hi = ceilDiv(lo, s.unit), floorDiv(hi, s.unit)
	switch s.width {
	case 1:
		lo, hi = max(lo, 0), min(hi, null8-1)
	case 4:
		lo, hi = max(lo, null32+1), min(hi, math.MaxInt32)
	}
	if lo > hi {
		clear(out)
		return
	}
	span := uint64(hi) - uint64(lo)
	for len(out) > 0 {
		c, o := first>>shift, int(first&chunkMask)
		n := min(len(out), chunkSize-o)
		part := out[:n]
		switch s.width {
		case 1:
			from, wide := uint8(lo), uint8(span)
			for i, x := range s.b.chunks[c][o : o+n][:len(part)] {
				part[i] = x-from <= wide
			}
		case 4:
			from, wide := uint32(int32(lo)), uint32(span)
			for i, x := range s.w.chunks[c][o : o+n][:len(part)] {
				part[i] = uint32(x)-from <= wide
			}
		default:
			for i, x := range s.l.chunks[c][o : o+n][:len(part)] {
				part[i] = uint64(x)-uint64(lo) <= span
			}
		}
		out, first = out[n:], first+int32(n)
	}
}

func ceilDiv(a, b int64) int64 {
	q := a / b
	if a%b > 0 {
		q++
	}
	return q
}

func floorDiv(a, b int64) int64 {
	q := a / b
	if a%b < 0 {
		q--
	}
	return q
}

// Among marks which of the len(out) values from row first on are in ok; the last index of ok stands for empty. The
// values are codes or rows, which are indices of ok. It says false, and marks nothing, where they take more than four
// bytes.
func (s *Ints) Among(first int32, ok []bool, out []bool) bool {
	if s.width > 4 || s.unit != 1 {
		return false
	}
	last := len(ok) - 1
	var all [256]bool
	copy(all[:], ok[:min(last, 256)])
	all[null8] = ok[last]
	for len(out) > 0 {
		c, o := first>>shift, int(first&chunkMask)
		n := min(len(out), chunkSize-o)
		part := out[:n]
		if s.width == 1 {
			for i, x := range s.b.chunks[c][o : o+n][:len(part)] {
				part[i] = all[x]
			}
		} else {
			for i, x := range s.w.chunks[c][o : o+n][:len(part)] {
				at := int(x)
				if x == null32 {
					at = last
				}
				part[i] = ok[at]
			}
		}
		out, first = out[n:], first+int32(n)
	}
	return true
}
