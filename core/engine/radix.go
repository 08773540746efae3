package engine

import (
	"math"

	"uzzel/core/column"
)

// digit is how many bits of a key are sorted at a time.
const digit = 11

// putInOrder gives the indices of n rows by keys, the most telling first, those of equal keys by the ties in their order: what
// sorting with less gives, for all rows at once. It sorts by the last key first, a digit at a time (LSD radix sort), so
// that it takes as long as there are digits in which rows differ.
func putInOrder(g guard, n int, keys []sortKey, ties [][]int32) []int32 {
	perm, next := make([]int32, n), make([]int32, n)
	for i := range perm {
		perm[i] = int32(i)
	}
	vals := make([]uint64, n)
	for i := len(ties) - 1; i >= 0; i-- {
		if len(ties[i]) == 0 {
			continue
		}
		for row, v := range ties[i] {
			vals[row] = uint64(uint32(v))
		}
		perm, next = byDigits(g, vals, perm, next)
	}
	for i := len(keys) - 1; i >= 0; i-- {
		keys[i].digits(vals)
		perm, next = byDigits(g, vals, perm, next)
	}
	return perm
}

// digits writes values as numbers that sort as the key does: from 0 on, empty ones last either way.
func (k sortKey) digits(out []uint64) {
	least, most := int64(math.MaxInt64), int64(math.MinInt64)
	for _, v := range k.vals {
		if v != column.Null {
			least, most = min(least, v), max(most, v)
		}
	}
	if least > most { // all are empty
		clear(out)
		return
	}
	last := uint64(most) - uint64(least) + 1
	for i, v := range k.vals {
		switch {
		case v == column.Null:
			out[i] = last
		case k.desc:
			out[i] = uint64(most) - uint64(v)
		default:
			out[i] = uint64(v) - uint64(least)
		}
	}
}

// byDigits sorts indices by the values at them, those of equal values as they were. It gives what is sorted, and what was
// room for it.
func byDigits(g guard, vals []uint64, perm, next []int32) (sorted, room []int32) {
	all := uint64(0) // bits in which values differ
	for _, v := range vals {
		all |= v ^ vals[0]
	}
	for shift := uint(0); shift < 64 && all>>shift != 0; shift += digit {
		const mask = 1<<digit - 1
		if all>>shift&mask == 0 {
			continue
		}
		g.poll()
		var from [1 << digit]int32
		for _, v := range vals {
			from[v>>shift&mask]++
		}
		at := int32(0)
		for d, n := range from {
			from[d] = at
			at += n
		}
		for _, i := range perm {
			d := vals[i] >> shift & mask
			next[from[d]] = i
			from[d]++
		}
		perm, next = next, perm
	}
	return perm, next
}
