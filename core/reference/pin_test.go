package reference_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cloudburst/core/colour"
	"cloudburst/core/optics"
	"cloudburst/core/photo"
	. "cloudburst/core/reference"
	"cloudburst/testkit"
)

func pin(name string, l float64, sample int) Pin {
	return Pin{
		UID: name, Name: name, ThicknessMM: 6, Ground: optics.White,
		Reading: photo.Reading{Lab: colour.Lab{L: l, A: 5, B: 20}, Error: 1.5}, Sample: sample,
	}
}

func TestPinsBecomeTargets(t *testing.T) {
	exact := pin("Eye", 30, 0)
	exact.Reading.From = photo.FromCup
	far := pin("Fin", 70, 0)
	far.Reading.Error = 99
	targets, bag := Targets("Herring", "h", []Pin{pin("Back", 40, 0), exact, far})
	assert.Nil(t, bag, "one bait is no bag")
	require.Len(t, targets, 3)
	assert.Equal(t, "Herring: Back", targets[0].Name)
	assert.Equal(t, "h", targets[0].Reference)
	assert.InDelta(t, 1.5, targets[0].Error, 1e-12)
	assert.False(t, targets[0].Exact)
	assert.True(t, targets[1].Exact)
	require.NoError(t, targets[2].Check(), "an error beyond all reason is kept within what a target can have")
}

func TestABagsSpreadIsGoodEnough(t *testing.T) {
	pins := []Pin{pin("Back", 40, 1), pin("back", 41, 2), pin("Back", 40.5, 3), pin("Belly", 80, 1), pin("Tail", 50, 0)}
	aside, mine := pin("Back", 70, 4), pin("Back", 10, 5)
	aside.Aside, mine.Mine = true, true
	targets, bag := Targets("Bag", "b", append(pins, aside, mine))
	require.NotNil(t, bag)
	require.Len(t, bag.Parts, 1, "a part of one bait has no spread")
	assert.Equal(t, 3, bag.Parts[0].Samples, "what was set aside, or differs on purpose, does not count")
	assert.Positive(t, targets[0].GoodEnough)
	assert.Less(t, targets[0].GoodEnough, 2.0)
	assert.Equal(t, targets[0].GoodEnough, targets[1].GoodEnough, "by the part's name, however it is written")
	assert.Zero(t, targets[3].GoodEnough)
	assert.Zero(t, targets[4].GoodEnough)
}

func TestAPinThatCannotBe(t *testing.T) {
	p := pin("Back", 40, 0)
	require.NoError(t, p.Check())
	p.ThicknessMM = 0
	testkit.AssertFault(t, p.Check(), "thicknessMM", "0.05 to 100")
	p = pin("", 40, 0)
	testkit.AssertFault(t, p.Check(), "name", "1 to 80")
	assert.True(t, p.OnPhoto())
	p.Of = "another"
	assert.False(t, p.OnPhoto(), "it is on another reference's photo")
}

func TestTwoPinsAreCompared(t *testing.T) {
	pins := []Pin{pin("a", 40, 0), pin("b", 62, 0)}
	pins[1].ThicknessMM = 2
	_, err := TintOf(pins, "a", "b", false, false)
	require.NoError(t, err)
	_, err = TintOf(pins, "a", "gone", false, false)
	testkit.AssertFault(t, err, "one", "choose two")
	pins[1].Reading.Unlit = true
	_, err = TintOf(pins, "a", "b", false, false)
	testkit.AssertFault(t, err, "one", "light of this photo is not undone")
}
