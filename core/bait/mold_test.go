package bait_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	. "cloudburst/core/bait"
	"cloudburst/core/measure"
)

func TestAMoldInALine(t *testing.T) {
	m := NewMold("It", "grub")
	require.NoError(t, m.Set("cavities", "8"))
	assert.Contains(t, m.Says(), "8 cavities")
	assert.Contains(t, m.Says(), "shot")
	assert.Equal(t, []Lie{BackLeft, BackRight}, m.LieChoices())
	require.NoError(t, m.Set("poured", "true"))
	require.NoError(t, m.Set("cavities", "1"))
	assert.Contains(t, m.Says(), "open pour, one cavity")
	assert.Equal(t, []Lie{BackDown, BellyDown}, m.LieChoices())
}

// Whatever goes into a bait, its parts and its cups take all of it, and no more.
func TestWhatABaitTakesOfItsCups(t *testing.T) {
	ways := Ways()
	rapid.Check(t, func(t *rapid.T) {
		shape := rapid.SampledFrom(Shapes()).Draw(t, "shape")
		m := NewMold("It", shape.Key)
		m.SprueML = rapid.Float64Range(0, 5).Draw(t, "sprue")
		if rapid.Bool().Draw(t, "measured") {
			m.BaitML = m.VolumeML() * rapid.Float64Range(0.8, 1.2).Draw(t, "ml")
		}
		d := NewDesign("It", shape.Key, "a")
		_ = d.Begin(rapid.SampledFrom(ways).Draw(t, "way").Key, &m) // one that does not suit the mold is refused
		parts, cups := m.Takes(&d.Structure, len(d.Cups))
		ml, bait, shot := 0.0, 0.0, 0.0
		for _, p := range parts {
			ml += p.ML
		}
		for _, c := range cups {
			bait, shot = bait+c.BaitML, shot+c.ShotML
		}
		for what, got := range map[string]float64{
			"parts": ml / m.VolumeML(), "baits": bait / m.VolumeML(), "shots": shot / m.ShotML(),
		} {
			if got < 0.98 || got > 1.02 {
				t.Fatalf("%s come to %.3f of it", what, got)
			}
		}
	})
}

func TestPartsAreAddedAndTakenAway(t *testing.T) {
	m := NewMold("It", "paddle-minnow")
	d := NewDesign("It", "paddle-minnow", "a")
	for range 2 {
		require.NoError(t, d.Set("add", "spots", &m))
		require.NoError(t, d.Set("add", "bars", &m))
	}
	bars, spots := len(d.Structure.Bars), len(d.Structure.Spots)
	require.Positive(t, bars)
	require.NoError(t, d.Set("remove", "bars.0", &m))
	require.NoError(t, d.Set("remove", "spots.0", &m))
	assert.Len(t, d.Structure.Bars, bars-1)
	assert.Len(t, d.Structure.Spots, spots-1)
	for _, all := range []string{"bars", "spots", "core", "skin", "tail"} {
		require.NoError(t, d.Set("remove", all, &m))
	}
	assert.Empty(t, d.Structure.Bars)
	require.NoError(t, d.Check(&m))
	var f *measure.Fault
	for field, typed := range map[string]string{"remove": "gills", "add": "legs"} {
		require.ErrorAs(t, d.Set(field, typed, &m), &f)
		assert.Equal(t, field, f.Field)
	}
	for field, typed := range map[string]string{
		"hook.grams": "900", "hook.at": "300 mm", "hook.up": "90 mm", "cups.0.pour": "900F",
	} {
		bad := d
		bad.Cups = append([]Poured{}, d.Cups...)
		err := bad.Set(field, typed, &m)
		if err == nil {
			err = bad.Check(&m)
		}
		require.ErrorAs(t, err, &f, field)
	}
}

// Every measure that a mold's page shows can be set to what it shows.
func TestAMoldsFieldsAreReadBack(t *testing.T) {
	for _, key := range []string{"paddle-minnow", "craw", Own, Chip} {
		m := NewMold("It", key)
		if key == Own || key == Chip {
			require.NoError(t, m.Set("shape", key))
		}
		for _, g := range m.Fields() {
			for _, f := range g.Fields {
				again := m
				require.NoError(t, again.Set(f.Key, f.Value), "%s %s: %s", key, f.Key, f.Value)
				var fault *measure.Fault
				if err := again.Set(f.Key, "a fish"); err != nil {
					require.ErrorAs(t, err, &fault, "%s %s", key, f.Key)
				}
			}
		}
	}
}
