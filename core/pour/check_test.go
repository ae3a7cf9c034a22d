package pour_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/bait"
	"cloudburst/core/cup"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	. "cloudburst/core/pour"
	"cloudburst/testkit"
)

// checked goes through a timeline with nothing but a clock and Newton's law, and says what is wrong with it. It knows
// nothing of how the timeline was made.
func checked(o *Order, b *Bench, p *Planned) (wrong []string) {
	bad := func(says string, args ...any) { wrong = append(wrong, fmt.Sprintf(says, args...)) }
	steps := slices.Clone(p.Timeline.Steps)
	units := map[string]int{"microwave": len(b.Heaters), "hands": b.Hands, "vacuum": 1, "plate": max(1, b.PlatePlaces)}
	for tick := range p.Timeline.Ticks {
		used := map[string]int{}
		for _, s := range steps {
			if s.Start <= tick && tick < s.Start+s.Ticks {
				for _, r := range s.Uses {
					used[r]++
				}
			}
		}
		for r, n := range used {
			if n > units[r] {
				bad("%d %s at once at tick %d", n, r, tick)
			}
		}
	}
	by := map[string]Step{}
	for _, s := range steps {
		by[s.Key] = s
		for _, t := range s.Says {
			if strings.HasPrefix(t, "About 0 ml") || strings.HasPrefix(t, "Draw 0 ml") {
				bad("%s: %s", s.Title, t)
			}
		}
	}
	// Every cup by itself, second by second.
	shot := map[string]map[int]float64{}
	drawn := make([]float64, len(p.Cooks))
	for k, c := range p.Cooks {
		mass := c.MeasuredML * c.GML
		full := mass
		temp, flakeIn, hottest := b.RoomC, false, 0.0
		heated := 0.0
		for second := 0; second <= p.Timeline.Ticks*int(TickS); second++ {
			for _, s := range steps {
				if !slices.Contains(s.Cooks, k) {
					continue
				}
				from, to := s.Start*int(TickS), (s.Start+s.Ticks)*int(TickS)
				switch {
				case s.Kind == "burst" && second > from && second <= to:
					temp += b.Heaters[0].PowerW * b.Heaters[0].Efficiency * s.BurstS / float64(s.Ticks*int(TickS)) / (mass * 1.7)
					heated += s.BurstS / float64(s.Ticks*int(TickS))
					if s.BurstS > float64(s.Ticks*int(TickS))+0.5 {
						bad("%s runs %.0f s in %d ticks", s.Key, s.BurstS, s.Ticks)
					}
				case s.Kind == "ready" && second == from && strings.HasSuffix(s.Key, "ready1"):
					for _, d := range c.Doses {
						if m := b.Shelf[d.Material]; m.Flake != nil && m.Heat != nil && m.Heat.MaxC > 0 &&
							temp > m.Heat.MaxC+1 {
							bad("%s goes into %s at %.1f °C, above its %.1f", d.Name, c.Letter, temp, m.Heat.MaxC)
						}
					}
					flakeIn = true
				case s.Kind == "shoot" && second == from:
					if shot[s.Key] == nil {
						shot[s.Key] = map[int]float64{}
					}
					shot[s.Key][k] = temp
					if temp < 148 {
						bad("%s shot from %s at %.1f °C", s.Key, c.Letter, temp)
					}
					load := p.Shots[s.Shot].Loads[s.Load]
					for n, of := range load.Cooks {
						if of == k {
							ml := load.HotML[n] * b.Shrink
							drawn[k] += ml
							mass = max(0.04*full, mass-ml*c.GML)
						}
					}
				}
			}
			if by[c.Letter+".measure"].Start*int(TickS)+by[c.Letter+".measure"].Ticks*int(TickS) <= second {
				temp = b.RoomC + (temp-b.RoomC)*math.Exp(-b.Heaters[0].CoolPerS*math.Cbrt(240*c.GML/mass))
			}
			if flakeIn {
				hottest = max(hottest, temp)
			}
			if temp > 190.5 {
				bad("%s at %.1f °C", c.Letter, temp)
			}
		}
		for _, d := range c.Doses {
			if m := b.Shelf[d.Material]; m.Heat != nil && m.Heat.MaxC > 0 && hottest > m.Heat.MaxC+1 {
				bad("cup %s gets %.1f °C with %s in it, which stands %.1f", c.Letter, hottest, d.Name, m.Heat.MaxC)
			}
		}
		if drawn[k] > c.MeasuredML+1e-6 {
			bad("%.1f ml drawn from %s, which holds %.1f", drawn[k], c.Letter, c.MeasuredML)
		}
	}
	// Cups of a shot that were to be equally hot are.
	filled := map[string]int{}
	for key, temps := range shot {
		least, most, atLeast := 999.0, -999.0, false
		for k, t := range temps {
			off := t - p.Heats[p.Cooks[k].Of].AimC
			least, most = min(least, off), max(most, off)
			atLeast = atLeast || t < p.Heats[p.Cooks[k].Of].LeastC+3 // no colder, whatever the others do
		}
		if most-least > 10/1.8 && !atLeast {
			bad("%s: its cups are %.1f K apart", key, most-least)
		}
		s := by[key]
		for _, f := range p.Shots[s.Shot].Loads[s.Load].Fills {
			filled[fmt.Sprint(s.Shot, f.Mold)] += f.Cavities
		}
		if open, ok := by[key+".open"]; ok && open.Start < s.Start+s.Ticks {
			bad("%s is opened before it was filled", key)
		}
	}
	for i := range p.Shots {
		for _, m := range p.Molds {
			if n := filled[fmt.Sprint(i, m.Mold)]; n != m.Made {
				bad("shot %d fills %d cavities of %s and not %d", i, n, m.Name, m.Made)
			}
		}
	}
	// No mold is filled again before it was opened: per pass, fills that are in are never more than there are molds.
	for _, a := range o.Molds {
		type change struct{ tick, by int }
		for _, tails := range []bool{true, false} {
			var all []change
			for _, s := range steps {
				if s.Shot < 0 || (p.Shots[s.Shot].Way == Tails) != tails {
					continue
				}
				n := 0
				for _, f := range p.Shots[s.Shot].Loads[s.Load].Fills {
					if f.Mold == a.Mold {
						n++
					}
				}
				firstOf := slices.IndexFunc(
					p.Shots, func(q PlannedShot) bool { return (q.Way == Tails) == tails },
				) == s.Shot
				switch {
				case s.Kind == "shoot" && firstOf:
					all = append(all, change{s.Start, n})
				case s.Kind == "demould":
					all = append(all, change{s.Start + s.Ticks, -n})
				}
			}
			slices.SortStableFunc(all, func(x, y change) int { return (x.tick-y.tick)*10 + x.by - y.by })
			in := 0
			for _, c := range all {
				if in += c.by; in > a.Copies {
					bad("%d fills of %s at once, of which there are %d", in, a.Mold, a.Copies)
				}
			}
		}
	}
	return wrong
}

func bench() *Bench {
	lagoon := bait.NewMold("Lagoon shad", "paddle-minnow")
	lagoon.Cavities, lagoon.SprueML, lagoon.PlugML, lagoon.GateMM = 4, 7, 9, 3.5
	lagoon.Split = bait.TypicalSplit(false, 4)
	perch := bait.NewMold("Perch fin", "drop-shot-minnow")
	perch.Cavities, perch.SprueML, perch.GateMM = 8, 5, 1.6
	perch.Split = bait.TypicalSplit(false, 8)
	stick := bait.NewMold("Reed stick", "stick")
	stick.Cavities, stick.Material, stick.Poured, stick.Lies, stick.GateMM = 6, bait.Silicone, true, bait.BellyDown, 0
	stick.Split = bait.TypicalSplit(true, 6)
	return &Bench{
		Equipment: Usual(), Kit: measure.StandardKit(), Shelf: testkit.Bench(),
		Molds: Molds{"lagoon": &lagoon, "perch": &perch, "stick": &stick}, Stock: map[string]material.Stock{},
	}
}

var fillings = [][]cup.Dose{
	{cup.DripOf("clear-brown", 8)},
	{cup.DripOf("titanium-white", 6), cup.DripOf("clear-yellow", 2)},
	{cup.DripOf("carbon-black", 9)},
}

func order(b *Bench, mold, way string, count int) *Order {
	d := bait.NewDesign("x", mold, "")
	if err := d.Begin(way, b.Molds[mold]); err != nil {
		panic(err)
	}
	o := &Order{
		Name: way, Structure: d.Structure, Molds: []Asked{{Mold: mold, Count: count, Copies: 2}}, Degas: NoDegas,
	}
	for i := range d.Cups {
		o.Cups = append(
			o.Cups,
			Poured{
				Name: []string{"Belly", "Back", "Spot"}[i%3],
				Cup: cup.Cup{
					Volume: testkit.MustVolume("1 cup"), Plastisol: "medium-plastisol", Doses: fillings[i%3],
				}, PourC: 168,
			},
		)
	}
	return o
}

// Jobs of every kind: nothing in their timelines breaks what can be kept, and each takes less than a second.
func TestTimelinesKeepWhatCanBeKept(t *testing.T) {
	random := rand.New(rand.NewPCG(19, 7))
	ways := []struct{ mold, way string }{
		{"lagoon", "single"},
		{"lagoon", "laminate"},
		{"lagoon", "three"},
		{"perch", "laminate"},
		{"lagoon", "core"},
		{"lagoon", "tail"},
		{"lagoon", "spots"},
		{"perch", "bars"},
		{"stick", "single"},
		{"stick", "pour"},
	}
	made, impossible := 0, 0
	for job := range 40 {
		b := bench()
		b.Hands, b.PlatePlaces, b.Vacuum = 1+random.IntN(2), random.IntN(2)*6, random.IntN(2) == 0
		b.Heaters[0].PowerW = []float64{700, 1000, 1200}[random.IntN(3)]
		if random.IntN(3) == 0 {
			b.Heaters = append(b.Heaters, b.Heaters[0])
		}
		b.Injectors[0].Count = 3
		of := ways[job%len(ways)]
		o := order(b, of.mold, of.way, 4+random.IntN(60))
		o.Molds[0].Copies = 1 + random.IntN(4)
		o.Warm, o.SparePercent, o.Whole = random.IntN(2) == 0, float64(random.IntN(12)), random.IntN(2) == 0
		o.Degas = []Degas{NoDegas, RawDegas, HotDegas}[random.IntN(3)]
		o.ColourRaw = job%3 == 0
		for i := range o.Cups {
			o.Cups[i].PourC = 160 + float64(random.IntN(14))
			if random.IntN(3) == 0 { // a flake that minds
				shelf := b.Shelf
				m := shelf["flake-silver"]
				m.Heat = &material.HeatLimit{MaxC: 168 + float64(random.IntN(12)), Origin: material.Maker}
				shelf["flake-silver"] = m
				o.Cups[i].Cup.Doses = append(slices.Clone(o.Cups[i].Cup.Doses), testkit.Tsp("flake-silver", 0.25))
			}
			if random.IntN(4) == 0 {
				o.Cups[i].Cup.Doses = append(slices.Clone(o.Cups[i].Cup.Doses), testkit.Tsp("salt-fine", 4))
			}
		}
		from := time.Now()
		p, err := o.Figure(b)
		took := time.Since(from)
		require.NoError(t, err, "job %d, %s", job, of.way)
		if p.Impossible != nil {
			t.Logf("job %d, %s: %v", job, of.way, p.Impossible.Clash)
			impossible++
			continue
		}
		made++
		assert.Empty(t, checked(o, b, p), "job %d: %s of %s, %d copies", job, of.way, of.mold, o.Molds[0].Copies)
		assert.Less(t, took, 10*time.Second, "job %d", job) // on a busy machine; quiet it is milliseconds
		sum := 0.0
		for _, g := range p.Goes {
			sum += g.ML
		}
		assert.InEpsilon(t, p.InML, sum, 1e-3, "job %d: where it goes", job)
	}
	t.Logf("%d planned, %d impossible", made, impossible)
	require.GreaterOrEqual(t, made, 30, "of 40 jobs %d were impossible", impossible)
}
