package project

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"cloudburst/core/colour"
	"cloudburst/core/cup"
	"cloudburst/core/match"
	"cloudburst/core/material"
	"cloudburst/core/measure"
	ref "cloudburst/core/reference"
)

// Project is a colour, or several, that test batches are poured after.
type Project struct {
	Name      string         `json:"name" minLength:"1" maxLength:"80"`
	Notes     string         `json:"notes,omitempty" maxLength:"4000"`
	Reference string         `json:"reference,omitempty" maxLength:"64" format:"uid" doc:"uid of what it is to look like"`
	Volume    measure.Volume `json:"volume" doc:"Of a test cup"`
	Plastisol string         `json:"plastisol" maxLength:"64" format:"uid"`
	Allow     match.Allow    `json:"allow" doc:"The bottles that may be used"`
	Most      int            `json:"most" minimum:"1" maximum:"6" doc:"Bottles in a cup"`
	Parts     []Sought       `json:"parts" nullable:"false" minItems:"1" maxItems:"6"`
}

// Sought is a part of the bait that is one plastic.
type Sought struct {
	Name    string       `json:"name" minLength:"1" maxLength:"40"`
	Targets []cup.Target `json:"targets" nullable:"false" minItems:"1" maxItems:"12" doc:"Each reading of it"`
}

// Limits of a project.
const (
	MaxParts   = 6
	MaxTargets = 12
)

// SameBag is the line to get under, ΔE00, where nobody knows how far the baits of the bag differ among themselves.
const SameBag = 2.0

// Stop is the line to get under: how far the baits of its bag differ among themselves.
func (p *Sought) Stop() float64 {
	sum, n := 0.0, 0
	for _, t := range p.Targets {
		if t.GoodEnough > 0 {
			sum, n = sum+t.GoodEnough, n+1
		}
	}
	if n == 0 {
		return SameBag
	}
	return sum / float64(n)
}

// OfBag says whether the line is the bag's own spread.
func (p *Sought) OfBag() bool {
	return slices.ContainsFunc(p.Targets, func(t cup.Target) bool { return t.GoodEnough > 0 })
}

// Part finds a part by its name.
func (p *Project) Part(name string) (*Sought, bool) {
	for i := range p.Parts {
		if strings.EqualFold(p.Parts[i].Name, name) {
			return &p.Parts[i], true
		}
	}
	return nil, false
}

// PartsOf makes parts of the pins of a reference: those of one name belong together, and what was read of several baits
// in the same way becomes one target in their midst. What was set aside, or differs on purpose, is left out, and what
// is more than a project has.
func PartsOf(reference, uid string, pins []ref.Pin) (parts []Sought) {
	targets, _ := ref.Targets(reference, uid, pins)
	var counted [][]int // baits in each target
	for i, t := range targets {
		if pins[i].Aside || pins[i].Mine {
			continue
		}
		name := short(pins[i].Name)
		at := slices.IndexFunc(parts, func(p Sought) bool { return strings.EqualFold(p.Name, name) })
		if at < 0 {
			if len(parts) == MaxParts {
				continue
			}
			at, parts, counted = len(parts), append(parts, Sought{Name: name}), append(counted, nil)
		}
		part := &parts[at]
		same := slices.IndexFunc(part.Targets, func(o cup.Target) bool { return asAlike(&o, &t) })
		if same >= 0 {
			o := &part.Targets[same]
			n := float64(counted[at][same] + 1)
			o.Lab = colour.Lab{
				L: o.Lab.L + (t.Lab.L-o.Lab.L)/n, A: o.Lab.A + (t.Lab.A-o.Lab.A)/n, B: o.Lab.B + (t.Lab.B-o.Lab.B)/n,
			}
			counted[at][same]++
		} else if len(part.Targets) < MaxTargets {
			part.Targets, counted[at] = append(part.Targets, t), append(counted[at], 1)
		}
	}
	return parts
}

// asAlike says whether two targets were read in the same way.
func asAlike(a, b *cup.Target) bool {
	return alike(a.ThicknessMM, b.ThicknessMM) && a.Ground == b.Ground && a.Device == b.Device &&
		cmp.Or(a.State, cup.Rested) == cmp.Or(b.State, cup.Rested)
}

// alike says whether two thicknesses can be compared as they are.
func alike(a, b float64) bool { return math.Abs(math.Log(a/b)) <= math.Log(alikeMM) }

// mostName is how long the name of a part is, as it is written on a cup.
const mostName = 40

func short(name string) string {
	letters := []rune(strings.TrimSpace(name))
	return strings.TrimSpace(string(letters[:min(len(letters), mostName)]))
}

// Check says what is wrong with a project.
func (p *Project) Check(shelf cup.Shelf) error {
	if err := cup.CheckName(p.Name); err != nil {
		return err
	}
	if len(p.Notes) > 4000 {
		return measure.Faulty("notes", "notes can have 4,000 letters; these have %d", len(p.Notes))
	}
	if err := measure.CheckNote("notes", p.Notes); err != nil {
		return err
	}
	if err := p.Volume.Check(); err != nil {
		return &measure.Fault{Field: "volume", Says: err.Error()}
	}
	if m, ok := shelf[p.Plastisol]; !ok || m.Kind != material.KindPlastisol {
		return measure.Faulty("plastisol", "choose a plastisol of your shelf")
	}
	if !(p.Most >= 1 && p.Most <= match.MostBottles) {
		return measure.Faulty("most", "from 1 to %d bottles in a cup", match.MostBottles)
	}
	if len(p.Parts) == 0 {
		return measure.Faulty("reference", "there is nothing to get to yet: pin a part of the reference first")
	}
	if len(p.Parts) > MaxParts {
		return measure.Faulty("parts", "a project has up to %d parts", MaxParts)
	}
	for i := range p.Parts {
		part := &p.Parts[i]
		field := fmt.Sprintf("parts[%d]", i)
		if err := measure.CheckName(field, "a part", part.Name, mostName); err != nil {
			return err
		}
		if len(part.Targets) == 0 || len(part.Targets) > MaxTargets {
			return measure.Faulty(field, "a part has from 1 to %d readings to meet", MaxTargets)
		}
		for k := range part.Targets {
			if err := part.Targets[k].Check(); err != nil {
				return err
			}
		}
	}
	return nil
}
