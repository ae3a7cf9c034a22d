package match

// ByOne works bands out one by one until the returned function is called.
func ByOne() func() {
	was := byFour
	byFour = false
	return func() { byFour = was }
}
