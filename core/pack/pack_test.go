package pack

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cloudburst/testkit"
)

func herring() (Pack, map[string]Supply) {
	p := Pack{
		Name: "Herring, six", Price: 7.5, Baits: []Baits{{"spotted", 4}, {"plain", 2}},
		Each: []Use{{"eyes", 2}, {"glue", 0.05}}, Bag: []Use{{"bag", 1}, {"oil", 2}},
	}
	return p, map[string]Supply{
		"eyes": {Name: "Eyes, 4 mm", Unit: Pieces, Counted: true, Left: 100, Size: 200, Price: 6},
		"glue": {Name: "Glue", Unit: ML, Counted: true, Left: 20, Size: 20, Price: 5},
		"bag":  {Name: "Bags", Unit: Pieces, Counted: true, Left: 50, Size: 100, Price: 9},
		"oil":  {Name: "Worm oil", Unit: ML, Size: 250, Price: 10},
	}
}

func TestAPackCostsWhatGoesIntoIt(t *testing.T) {
	p, supplies := herring()
	require.NoError(t, p.Check())
	c := p.Costs(map[string]float64{"spotted": 0.22, "plain": 0.18}, supplies)
	assert.InDelta(t, 4*0.22+2*0.18, c.Plastic, 1e-12)
	assert.InDelta(t, 12*0.03+0.3*0.25+0.09+2*0.04, c.Supplies, 1e-12)
	assert.InDelta(t, 7.5-c.All, c.Leaves, 1e-12)
	n, first := p.Can(map[string]int{"spotted": 60, "plain": 40}, supplies, func(uid string) string { return uid })
	assert.Equal(t, 8, n, "100 eyes, twelve a pack")
	assert.Equal(t, "Eyes, 4 mm", first)
	n, first = p.Can(map[string]int{"spotted": 11, "plain": 40}, supplies, func(uid string) string { return uid })
	assert.Equal(t, 2, n)
	assert.Equal(t, "spotted", first)
	left, err := p.Take(8, supplies)
	require.NoError(t, err)
	assert.InDelta(t, 4, left["eyes"].Left, 1e-9)
	assert.NotContains(t, left, "oil", "nobody counts it")
	_, err = p.Take(9, supplies)
	assert.ErrorContains(t, err, "9 packs take 108 of Eyes, 4 mm, and 100 are left")
	_, err = p.Take(0, supplies)
	assert.Error(t, err)
}

// What is taken by several makings is what all of them need, and never more than there was.
func TestTakingAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p, supplies := herring()
		is, made := supplies, 0
		for range rapid.IntRange(1, 12).Draw(t, "times") {
			n := rapid.IntRange(1, 4).Draw(t, "packs")
			left, err := p.Take(n, is)
			if err != nil {
				continue
			}
			next := map[string]Supply{}
			for uid, s := range is {
				next[uid] = s
			}
			for uid, s := range left {
				next[uid] = s
				assert.GreaterOrEqual(t, s.Left, -1e-9)
			}
			is, made = next, made+n
		}
		for uid, n := range p.Needs(made) {
			if supplies[uid].Counted {
				assert.InDelta(t, supplies[uid].Left-n, is[uid].Left, 1e-6)
			}
		}
	})
}

func TestAPackIsRefusedInWords(t *testing.T) {
	for field, spoil := range map[string]func(p *Pack){
		"name":          func(p *Pack) { p.Name = " " },
		"baits":         func(p *Pack) { p.Baits = nil },
		"baits.0.count": func(p *Pack) { p.Baits[0].Count = 0 },
		"baits.1.bait":  func(p *Pack) { p.Baits[1].Bait = "spotted" },
		"price":         func(p *Pack) { p.Price = -1 },
		"each.0.amount": func(p *Pack) { p.Each[0].Amount = 0 },
		"bag.1.amount":  func(p *Pack) { p.Bag[1].Amount = -3 },
	} {
		p, _ := herring()
		spoil(&p)
		testkit.AssertFault(t, p.Check(), field, "")
	}
	s := Supply{Name: "Eyes", Unit: "boxes"}
	assert.ErrorContains(t, s.Check(), "pieces, ml or g")
	s = Supply{Name: "Eyes", Unit: Pieces, Left: -4}
	assert.ErrorContains(t, s.Check(), "from 0")
	low := Supply{Name: "Eyes", Unit: Pieces, Counted: true, Left: 4, Low: 10}
	assert.True(t, low.RunsLow())
}
