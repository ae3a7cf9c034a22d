package plan

// Balance says where all of it goes, cold. In is the sum of the rest.
type Balance struct {
	InML, BaitsML                              float64
	SpruesML, PlugsML, CutOffsML, RestInCupsML float64 // leftovers
	PurgeML, CupML, SpillML                    float64 // lost
}

// LeftoversML is what can be melted again.
func (b *Balance) LeftoversML() float64 { return b.SpruesML + b.PlugsML + b.CutOffsML + b.RestInCupsML }

// LossesML is what is gone.
func (b *Balance) LossesML() float64 { return b.PurgeML + b.CupML + b.SpillML }

// DifferenceML is what the balance lacks: nothing, but for rounding.
func (b *Balance) DifferenceML() float64 { return b.InML - b.BaitsML - b.LeftoversML() - b.LossesML() }

func (p *Plan) balance(j *Job) {
	b := &p.Balance
	for i := range p.Shots {
		for k := range p.Shots[i].Parts {
			part := &p.Shots[i].Parts[k]
			b.InML += part.MeasuredColdML
			b.BaitsML += part.KeptColdML
			b.SpruesML += part.SprueHotML * j.Shrink
			b.PlugsML += part.PlugHotML * j.Shrink
			b.CutOffsML += part.CutOffColdML
			b.RestInCupsML += part.RestColdML
			b.PurgeML += part.PurgeHotML * j.Shrink
			b.CupML += part.CupLossHotML * j.Shrink
			b.SpillML += part.SpillHotML * j.Shrink
		}
	}
}
