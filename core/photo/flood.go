package photo

// Flood gathers the pixels that hang together with one, on a grid so wide, of so many: from each to those beside it,
// above and below that joins says belong to it. joins is asked again for a pixel that it took unless it notes that.
func Flood(wide, many int, from int32, joins func(from, to int32) bool) []int32 {
	got := []int32{from}
	for i := 0; i < len(got); i++ {
		k := got[i]
		x := int(k) % wide
		for _, side := range [4]struct {
			step int
			open bool
		}{{1, x < wide-1}, {-1, x > 0}, {wide, int(k)+wide < many}, {-wide, int(k) >= wide}} {
			if to := k + int32(side.step); side.open && joins(k, to) {
				got = append(got, to)
			}
		}
	}
	return got
}
