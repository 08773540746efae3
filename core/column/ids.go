package column

import (
	"sort"
	"strconv"
	"sync/atomic"
)

// IDs are the ids of a table's rows in their order: whole numbers first, by value, then the others by code point.
type IDs struct {
	nums  []int64       // while every id is a plain whole number
	taken *atomic.Int64 // how many places behind nums are taken, by these ids or by others that go on from them
	texts []string      // otherwise
	rows  map[string]int32
}

// plainInt reads an id that is written as Go would write the number.
func plainInt(s string) (int64, bool) {
	n, err := strconv.ParseInt(s, 10, 64)
	return n, err == nil && strconv.FormatInt(n, 10) == s
}

// wholeNumber says whether an id is a whole number, also one with leading zeros.
func wholeNumber(s string) (int64, bool) {
	n, err := strconv.ParseInt(s, 10, 64)
	return n, err == nil && s[0] != '+'
}

// LessID is the order of ids.
func LessID(a, b string) bool {
	x, okX := wholeNumber(a)
	y, okY := wholeNumber(b)
	if okX != okY {
		return okX
	}
	if okX && x != y {
		return x < y
	}
	return a < b
}

// plus is the ids with one more. It is put behind the others where that place is free, so that a table that grows record
// by record is not copied each time; who reads the ids as they were does not see it.
func (ids *IDs) plus(id int64) *IDs {
	n := len(ids.nums)
	if ids.taken == nil || n == cap(ids.nums) || !ids.taken.CompareAndSwap(int64(n), int64(n+1)) {
		nums := append(make([]int64, 0, n+n/8+16), ids.nums...)
		next := &IDs{nums: append(nums, id), taken: &atomic.Int64{}}
		next.taken.Store(int64(n + 1))
		return next
	}
	return &IDs{nums: append(ids.nums, id), taken: ids.taken}
}

// At is the id of a row.
func (ids *IDs) At(row int32) string {
	if ids.texts != nil {
		return ids.texts[row]
	}
	return strconv.FormatInt(ids.nums[row], 10)
}

// Row finds the row of an id, −1 where there is none.
func (ids *IDs) Row(id string) int32 {
	if ids.texts != nil {
		if r, ok := ids.rows[id]; ok {
			return r
		}
		return -1
	}
	n, ok := plainInt(id)
	if !ok {
		return -1
	}
	return ids.rowOf(n)
}

func (ids *IDs) rowOf(n int64) int32 {
	if len(ids.nums) == 0 {
		return -1
	}
	if at := n - ids.nums[0]; at >= 0 && at < int64(len(ids.nums)) && ids.nums[at] == n {
		return int32(at)
	}
	i := sort.Search(len(ids.nums), func(i int) bool { return ids.nums[i] >= n })
	if i < len(ids.nums) && ids.nums[i] == n {
		return int32(i)
	}
	return -1
}
