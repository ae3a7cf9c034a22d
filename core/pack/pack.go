// Package pack is what goes into a bag: baits of one or several kinds, and what is bought for them, such as eyes, glue,
// scent, bags and labels.
//
// Read Pack, then Figure.
//
// Units: a supply's own (pieces, ml or g); money is the shop's.
//
// Source: the makers' own habits (docs/model.md, "Packs").
package pack

import (
	"fmt"
	"slices"

	"cloudburst/core/measure"
)

// Supply is something that is bought and used up, and is not plastic or what goes into it.
type Supply struct {
	Name    string  `json:"name" minLength:"1" maxLength:"80"`
	Unit    Unit    `json:"unit" enum:"pieces,ml,g"`
	Counted bool    `json:"counted" doc:"Somebody counts what is left; else it is never lacking"`
	Left    float64 `json:"left" minimum:"0" maximum:"1000000"`
	Low     float64 `json:"low" minimum:"0" maximum:"1000000" doc:"Buy more below this; 0 for never"`
	Size    float64 `json:"size" minimum:"0" maximum:"1000000" doc:"How much is bought at once"`
	Price   float64 `json:"price" minimum:"0" maximum:"1000000" doc:"For that"`
}

// Unit is what a supply is counted in.
type Unit string

// The units.
const (
	Pieces Unit = "pieces"
	ML     Unit = "ml"
	Grams  Unit = "g"
)

const mostOf = 1_000_000

// Check says what is wrong with a supply.
func (s *Supply) Check() error {
	if err := measure.CheckName("name", "it", s.Name, 80); err != nil {
		return err
	}
	if !slices.Contains([]Unit{Pieces, ML, Grams}, s.Unit) {
		return measure.Faulty("unit", "it is counted in pieces, ml or g")
	}
	for _, one := range []struct {
		field, what string
		v           float64
	}{{"left", "what is left", s.Left}, {"low", "what more is bought below", s.Low}, {"size", "what is bought at once", s.Size}, {"price", "its price", s.Price}} {
		if !(one.v >= 0 && one.v <= mostOf) {
			return measure.Faulty(one.field, "%s is from 0 to a million", one.what)
		}
	}
	return nil
}

// PerUnit is what one of it costs; 0 where nobody said.
func (s *Supply) PerUnit() float64 {
	if s.Size <= 0 {
		return 0
	}
	return s.Price / s.Size
}

// Amount is so much of it, in words.
func (s *Supply) Amount(n float64) string {
	if s.Unit == Pieces {
		return measure.Number(n, 0)
	}
	return measure.Number(n, 2) + " " + string(s.Unit)
}

// RunsLow says whether less is left than the maker buys more below.
func (s *Supply) RunsLow() bool { return s.Counted && s.Low > 0 && s.Left < s.Low }

// Pack is a bag as it is sold: which baits, how many, and what goes onto each and into the bag.
type Pack struct {
	Name  string  `json:"name" minLength:"1" maxLength:"80"`
	Note  string  `json:"note,omitempty" maxLength:"2000"`
	Baits []Baits `json:"baits" nullable:"false" minItems:"1" maxItems:"8"`
	Each  []Use   `json:"each" nullable:"false" maxItems:"12" doc:"On each bait: eyes, glue"`
	Bag   []Use   `json:"bag" nullable:"false" maxItems:"12" doc:"Once a bag: the bag, its label, oil, scent"`
	Price float64 `json:"price" minimum:"0" maximum:"1000000" doc:"What a pack is sold for; 0 where it is not"`
}

// Baits are so many of one kind.
type Baits struct {
	Bait  string `json:"bait" maxLength:"64" format:"uid"`
	Count int    `json:"count" minimum:"1" maximum:"500"`
}

// Use is so much of a supply.
type Use struct {
	Supply string  `json:"supply" maxLength:"64" format:"uid"`
	Amount float64 `json:"amount" minimum:"0" maximum:"10000"`
}

// Limits of what is made up at once.
const (
	mostInABag = 500
	MostPacks  = 2000
)

// Check says what is wrong with a pack.
func (p *Pack) Check() error {
	if err := measure.CheckName("name", "the pack", p.Name, 80); err != nil {
		return err
	}
	if err := measure.CheckNote("note", p.Note); err != nil || len(p.Note) > 2000 {
		return measure.Faulty("note", "a note has up to 2,000 letters")
	}
	if len(p.Baits) == 0 || len(p.Baits) > 8 {
		return measure.Faulty("baits", "which baits are in it? One to eight kinds")
	}
	all, seen := 0, map[string]bool{}
	for i, b := range p.Baits {
		if b.Count < 1 || b.Count > mostInABag || b.Bait == "" {
			return measure.Faulty(
				fmt.Sprintf("baits.%d.count", i), "how many of it are in a pack? From 1 to %d", mostInABag,
			)
		}
		if seen[b.Bait] {
			return measure.Faulty(
				fmt.Sprintf("baits.%d.bait", i), "this bait is there twice; give its number in one line",
			)
		}
		seen[b.Bait] = true
		all += b.Count
	}
	if all > mostInABag {
		return measure.Faulty("baits", "%d baits are more than one bag holds", all)
	}
	if !(p.Price >= 0 && p.Price <= mostOf) {
		return measure.Faulty("price", "a pack is sold for 0 to a million")
	}
	for _, list := range []struct {
		field string
		uses  []Use
	}{{"each", p.Each}, {"bag", p.Bag}} {
		if len(list.uses) > 12 {
			return measure.Faulty(list.field, "up to twelve things are kept there")
		}
		for i, u := range list.uses {
			if u.Supply == "" || !(u.Amount > 0 && u.Amount <= 10_000) {
				return measure.Faulty(
					fmt.Sprintf("%s.%d.amount", list.field, i), "how much of it? More than none, up to 10,000",
				)
			}
		}
	}
	return nil
}

// Count is how many baits are in a pack.
func (p *Pack) Count() int {
	n := 0
	for _, b := range p.Baits {
		n += b.Count
	}
	return n
}

// Needs is what so many packs take of the supplies.
func (p *Pack) Needs(packs int) map[string]float64 {
	out := map[string]float64{}
	for _, u := range p.Each {
		out[u.Supply] += float64(packs*p.Count()) * u.Amount
	}
	for _, u := range p.Bag {
		out[u.Supply] += float64(packs) * u.Amount
	}
	return out
}

// Cost is what a pack costs.
type Cost struct {
	Plastic  float64 `json:"plastic" doc:"Of its baits, with what was poured for them"`
	Supplies float64 `json:"supplies"`
	All      float64 `json:"all"`
	PerBait  float64 `json:"perBait"`
	Leaves   float64 `json:"leaves" doc:"What is left of what it is sold for; 0 where it is not sold"`
}

// Costs works it out; perBait is what the plastic of a bait costs.
func (p *Pack) Costs(perBait map[string]float64, supplies map[string]Supply) Cost {
	var c Cost
	for _, b := range p.Baits {
		c.Plastic += float64(b.Count) * perBait[b.Bait]
	}
	for uid, n := range p.Needs(1) {
		s := supplies[uid]
		c.Supplies += n * s.PerUnit()
	}
	c.All = c.Plastic + c.Supplies
	c.PerBait = c.All / float64(p.Count())
	if p.Price > 0 {
		c.Leaves = p.Price - c.All
	}
	return c
}

// Can is how many packs the baits and supplies at hand give, and what is the first to run out; baits are those known to
// be at hand.
func (p *Pack) Can(
	baits map[string]int, supplies map[string]Supply, nameOf func(bait string) string,
) (packs int, first string) {
	packs = MostPacks
	least := func(n int, name string) {
		if n < packs {
			packs, first = n, name
		}
	}
	for _, b := range p.Baits {
		least(max(0, baits[b.Bait])/b.Count, nameOf(b.Bait))
	}
	for _, u := range slices.Concat(p.Each, p.Bag) {
		if s, ok := supplies[u.Supply]; ok && s.Counted {
			least(int(s.Left/p.Needs(1)[u.Supply]+1e-9), s.Name)
		}
	}
	return packs, first
}

// Sellable says why so many can't be sold, where so many are ready.
func (p *Pack) Sellable(packs, ready int) error {
	switch {
	case packs < 1 || packs > MostPacks:
		return measure.Faulty("count", "how many were sold? From 1 to %d", MostPacks)
	case packs > ready:
		return measure.Faulty(
			"count", "%d packs are ready. Make up what is missing first, so that its bags and labels are counted",
			ready,
		)
	}
	return nil
}

// Take takes so many packs' needs off the supplies. It gives those that it changed; one that is too little is named,
// and nothing is taken.
func (p *Pack) Take(packs int, supplies map[string]Supply) (map[string]Supply, error) {
	if packs < 1 || packs > MostPacks {
		return nil, measure.Faulty("count", "from 1 to %d packs are made up at once", MostPacks)
	}
	out := map[string]Supply{}
	for uid, n := range p.Needs(packs) {
		s, ok := supplies[uid]
		switch {
		case !ok:
			return nil, measure.Faulty(
				"count", "one of the things in this pack is no longer there; take it out of the pack first",
			)
		case !s.Counted:
			continue
		case n > s.Left+1e-9:
			return nil, measure.Faulty(
				"count", "%d packs take %s of %s, and %s are left. Make up fewer, or count what is there", packs,
				s.Amount(n),
				s.Name, s.Amount(s.Left),
			)
		}
		s.Left -= n
		out[uid] = s
	}
	return out, nil
}
