package project

// SayOrder is sayOrder.
func SayOrder(steps []Onward) { sayOrder(steps) }
