package pour

import (
	"fmt"
	"math"

	"cloudburst/core/cup"
	"cloudburst/core/heat"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	"cloudburst/core/plan"
)

// cookState is how far the laying is with a cook.
type cookState struct {
	last     string // the step after which it goes on
	uses     int
	drawnHot float64 // ml, by then
}

// prepare lays out what is done to a cook until its colour is right, in the group of its first load.
func (l *laying) prepare(k, group int) *cookState {
	c := &l.Cooks[k]
	s := &cupSteps{laying: l, k: k, group: group, c: c}
	word, ticks := "measure", measureTicks
	for _, d := range c.Doses {
		if d.When == Cold && whenOf(new(l.b.Shelf[d.Material])) == Colour {
			word = "measure and colour"
			ticks++
		}
	}
	s.next("measure", word, Step{Kind: Measure, Uses: []string{hands}, Ticks: ticks, Says: l.sayMeasure(c)})
	if l.o.Degas == RawDegas && l.b.Vacuum {
		s.next("air", "degas, raw", Step{Kind: Air, Uses: []string{vacuum}, Ticks: rawAirTicks, Caution: cautionVacuum})
	}
	s.heatUp()
	grains := s.colour()
	if l.b.Vacuum && (l.o.Degas == HotDegas || grains) {
		s.next("air2", "degas, hot", Step{Kind: Air, Uses: []string{vacuum}, Ticks: airTicks, Caution: cautionVacuum})
	}
	return &cookState{last: s.last}
}

// cupSteps lays the steps of one cup, one after the other.
type cupSteps struct {
	*laying
	k, group int
	c        *Cook
	last     string // key of the step that was laid
}

// next lays one more, and gives its key.
func (s *cupSteps) next(key, title string, step Step) string {
	step.Key = s.c.Letter + "." + key
	step.Title = fmt.Sprintf("Cup %s, %s: %s", s.c.Letter, s.c.Name, title)
	step.Cooks, step.Shot = []int{s.k}, -1
	n := s.add(s.group, step)
	if s.last != "" {
		s.then(s.last, n, 0)
	}
	s.last = n
	return n
}

// heatUp brings it to where it works, by a long burst, a stir and a shorter burst.
func (s *cupSteps) heatUp() {
	workC := s.Heats[s.c.Of].WorkC
	longC := longBurst * (workC - s.b.RoomC)
	long := s.burstGuess(s.c, longC)
	s.next("first", "heat, a long burst", Step{
		Kind: Burst, Uses: []string{microwave}, Ticks: ticksOf(long), ToC: s.b.RoomC + longC,
	})
	s.next("stir", "stir", Step{
		Kind: Stir, Uses: []string{hands}, Ticks: 2, Says: []string{"Stir to the ground, slowly: no air."},
	})
	s.next("fuse", "heat to work", Step{
		Kind: Burst, Uses: []string{microwave}, Ticks: ticksOf(s.burstGuess(s.c, workC-s.b.RoomC) - long), ToC: workC,
		Caution: cautionHot,
	})
}

// colour lays what goes into the hot cup, once it is cool enough for all of it, and says whether there is salt or the
// like among it.
func (s *cupSteps) colour() (grains bool) {
	workC := s.Heats[s.c.Of].WorkC
	var lines []string
	limit, what := workC+1, ""
	for _, d := range s.c.Doses {
		if d.When != Colour {
			continue
		}
		lines = append(lines, d.Says+" "+d.Name)
		if d.MaxC > 0 && d.MaxC < limit {
			limit, what = d.MaxC, d.Name
		}
		grains = grains || s.b.grainMM(d.Material) > 0
	}
	if len(lines) == 0 {
		return false
	}
	step := Step{Kind: Dose, Uses: []string{hands}, Ticks: 3 + len(lines), Says: lines}
	if grains {
		step.Says = append(step.Says, "The salt goes in slowly, while you stir.")
		step.Caution = cautionDust
	}
	fused := s.last
	next := s.next("colour", "colour", step)
	if limit < workC {
		gap := 0
		if sec, ever := heat.FallS(workC, limit, s.b.RoomC, s.coolPerS(s.c)); ever {
			gap = ticksOf(sec)
		}
		enough := fmt.Sprintf("cup %s cool enough for %s (%s)", s.c.Letter, what, measure.Degrees(limit))
		s.within(enough, fused, next, gap, 0, false)
		s.holdsBy(s.k, limit, true)
	}
	return grains
}

// burstGuess is how long a cold cook takes to warm by so much.
func (l *laying) burstGuess(c *Cook, kelvin float64) float64 {
	h := l.b.heater()
	return c.MeasuredML * c.GML * heat.UsualCpJgK * kelvin / (h.PowerW * h.Efficiency)
}

// coolPerS is how fast a full cook cools.
func (l *laying) coolPerS(c *Cook) float64 {
	if l.b.pots() {
		return potCoolPerS
	}
	return l.b.heater().coolPerS(c.MeasuredML)
}

// grainMM is the size of a material's grains that settle; 0 where it has none.
func (b *Bench) grainMM(uid string) float64 {
	m := b.Shelf[uid]
	if a := m.Additive; a != nil && (a.Role == material.Salt || a.Role == material.Glass) {
		return a.GrainMM.Value
	}
	return 0
}

// stirAgain is after how many ticks a cook has to be stirred again; 0 where nothing in it settles.
func (l *laying) stirAgain(c *Cook) int {
	if known, ok := l.settles[c.Letter]; ok {
		return known
	}
	l.settles[c.Letter] = l.settlesAfter(c)
	return l.settles[c.Letter]
}

func (l *laying) settlesAfter(c *Cook) int {
	for _, d := range c.Doses {
		if mm := l.b.grainMM(d.Material); mm > 0 {
			m := l.b.Shelf[d.Material]
			g := heat.Grains{
				MM: mm, GML: m.DensityGML(), FluidGML: usualGML, Fluid: hot, StartC: l.Heats[c.Of].AimC,
				AmbientC: l.b.RoomC,
				CoolPerS: l.coolPerS(c),
			}
			if s, ever := g.StirAfter(settledMM, cup.ShootableC-20); ever {
				return max(1, int(s/TickS))
			}
		}
	}
	return 0
}

// heatUp lays out what makes a cook hot and ready for its next use, and gives the step after which it is.
func (l *laying) heatUp(st *cookState, k, group int, shoot string) {
	c := &l.Cooks[k]
	h := &l.Heats[c.Of]
	st.uses++
	title := fmt.Sprintf("Cup %s, %s: ", c.Letter, c.Name)
	burst := l.add(group, Step{
		Key: fmt.Sprintf("%s.heat%d", c.Letter, st.uses), Kind: Burst, Title: title +
			"heat to shoot", Cooks: []int{k}, Shot: -1, Uses: []string{microwave}, Ticks: flag(st.uses == 1),
		use: st.uses,
	})
	l.then(st.last, burst, 0)
	l.shootOf[burst] = shoot
	l.burstsOf[shoot] = append(l.burstsOf[shoot], burst)
	s := Step{
		Key: fmt.Sprintf(
			"%s.ready%d", c.Letter, st.uses,
		), Kind: Ready, Title: title + "stir", Cooks: []int{k}, Shot: -1,
		Uses: []string{hands}, Ticks: 1, use: st.uses,
	}
	var flakes []string
	for _, d := range c.Doses {
		if d.When == Flake && st.uses == 1 {
			line := d.Says + " " + d.Name
			if d.MaxC > 0 {
				line += ", below " + measure.Degrees(d.MaxC)
			}
			flakes = append(flakes, line)
		}
	}
	if len(flakes) > 0 {
		s.Title, s.Says, s.Ticks = title+"flake in, stir", append(
			flakes, "Stir it in and go on at once.",
		), 1+len(flakes)
	} else {
		s.Says = []string{"Stir from the ground, both hands steady: what has settled comes up."}
	}
	ready := l.add(group, s)
	l.then(burst, ready, 0)
	if st.uses == 1 && h.WorkC > h.MostC { // it comes from the work, hotter than what goes in stands
		if sec, ever := heat.FallS(h.WorkC, h.MostC, l.b.RoomC, l.coolPerS(c)); ever {
			fuse := c.Letter + ".fuse"
			l.within(
				fmt.Sprintf(
					"cup %s cool enough for what goes in last (%s)", c.Letter, measure.Degrees(h.MostC),
				), fuse, ready,
				ticksOf(sec), 0, false,
			)
			l.holdsBy(k, h.MostC, true)
		}
	}
	// nor hotter than the others of its shot
	if downC := h.AimC + nearC; st.uses == 1 && len(l.burstsOf[shoot]) > 0 && h.WorkC > downC {
		if sec, ever := heat.FallS(h.WorkC, downC, l.b.RoomC, l.coolPerS(c)); ever {
			l.within(
				fmt.Sprintf("cup %s down to the heat at which it is shot (%s)", c.Letter, measure.Degrees(h.AimC)),
				c.Letter+".fuse", shoot, ticksOf(sec), 0, false,
			)
			l.holdsBy(k, downC, true)
		}
	}
	l.then(ready, shoot, 0)
	left := max(leastLeft, 1-st.drawnHot*l.b.Shrink/c.MeasuredML) // the less is in it, the sooner it is cold
	if sec, ever := heat.FallS(h.MostC, h.LeastC, l.b.RoomC, l.coolPerS(c)/math.Cbrt(left)); ever {
		name := fmt.Sprintf("cup %s still hot enough to shoot (%s)", c.Letter, measure.Degrees(h.LeastC))
		most := int(sec/TickS + 1e-9)
		l.windows = append(l.windows, plan.Window{Name: name, From: burst, To: shoot, Most: &most})
		l.holdsBy(k, h.LeastC, false)
	}
	if again := l.stirAgain(c); again > 0 {
		l.within(fmt.Sprintf("cup %s shot before its grains settle", c.Letter), ready, shoot, 0, again, true)
	}
	st.last = shoot
}

func (l *laying) sayMeasure(c *Cook) []string {
	base := l.b.Shelf[c.Cup.Plastisol]
	out := []string{
		"Stir the jug of " + base.Name + ".", "Measure " + measure.Number(c.Cup.Volume.ML, 0) + " ml of it.",
	}
	if c.LeftML > 0 {
		out = append(
			out, fmt.Sprintf("Cut up %s ml of what is left of %s and put it in.", measure.Number(c.LeftML, 0), c.Name),
		)
	}
	for _, d := range c.Doses {
		if d.When == Cold {
			out = append(out, "Add "+d.Says+" "+d.Name+".")
		}
	}
	return out
}
