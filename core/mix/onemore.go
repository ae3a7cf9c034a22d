package mix

import (
	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/measure"
)

// OneMore is what the next step of one line would change.
type OneMore struct {
	Material string         `json:"material"`
	Step     measure.Amount `json:"step"`
	Says     string         `json:"says" doc:"The step in words: 1 drop, 1/64 tsp"`
	DeltaE00 float64        `json:"deltaE00"`
	Words    string         `json:"words" doc:"Which way: darker, yellower, less see-through; or that it can hardly be seen, or not at all"`
	Nearer   *float64       `json:"nearer,omitempty" doc:"By how much it comes nearer to the target, ΔE00; below 0 it goes away"`
	Swatch   Swatch         `json:"swatch" doc:"The cup with it"`
}

// leastSeen is the least that the sharpest eye sees, ΔE00.
const leastSeen = 0.3

// leastSeeThrough is the change of see-through share that a maker notices.
const leastSeeThrough = 0.02

// More works out the next step of every line of the cup, seen under a condition.
func More(c *cup.Cup, m *Mix, shelf cup.Shelf, kit measure.Kit, at Condition) ([]OneMore, error) {
	now := m.Colour(at)
	through := m.SeeThrough(at.ThicknessMM, at.State)
	out := []OneMore{}
	for _, d := range c.Doses {
		next, step, err := c.With(d.Material, 1, shelf, kit)
		if err != nil {
			continue // it can take no more of this one
		}
		mix, err := Stir(&next, shelf)
		if err != nil {
			return nil, err
		}
		lab := mix.Colour(at)
		o := OneMore{
			Material: d.Material, Step: step, Says: step.String(), DeltaE00: colour.DeltaE00(now, lab),
			Words: colour.Lean(lab, now), Swatch: NewSwatch(lab),
		}
		if less := through - mix.SeeThrough(at.ThicknessMM, at.State); less > leastSeeThrough {
			o.Words = join(o.Words, "less see-through")
		} else if less < -leastSeeThrough {
			o.Words = join(o.Words, "more see-through")
		}
		if o.Words == "" {
			o.Words = "hardly seen"
			if o.DeltaE00 < leastSeen {
				o.Words = "can't be seen"
			}
		}
		if c.Target != nil {
			nearer := colour.DeltaE00(now, c.Target.Lab) - colour.DeltaE00(lab, c.Target.Lab)
			o.Nearer = &nearer
		}
		out = append(out, o)
	}
	return out, nil
}

func join(a, b string) string {
	if a == "" {
		return b
	}
	return a + ", " + b
}
