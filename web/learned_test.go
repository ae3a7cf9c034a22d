package web_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"cloudburst/web"
)

// The demo's batches teach the bottle that all of them have. One more reading changes what is known, and nothing of it stays once it is
// taken out.
func TestReadingsTeachABottle(t *testing.T) {
	s := serve(t, true)
	learned := func(uid string) web.LearnedAnswer {
		return get[web.LearnedAnswer](s, "GET", "/materials/"+uid+"/learned", nil)
	}
	before := learned("tea-brown")
	assert.Len(t, before.Batches, 4)
	assert.Contains(t, before.Says, "By 4 batches")
	assert.Len(t, before.After, len(before.Before))
	assert.Less(t, before.Learned.StrengthSD, 0.2, "surer than its typical figures")

	all := list[web.BatchCard](s, "/batches")
	batch := all[slices.IndexFunc(all, func(b web.BatchCard) bool { return b.RecipeName == "Wet rope" })]
	reading := anything{"name": "Tail", "lab": anything{"L": 80, "a": 2, "b": 14}, "thicknessMM": 2, "ground": "white", "state": "rested", "how": "photo"}
	path := "/batches/" + batch.UID + "/readings"
	got := get[web.BatchCard](s, "POST", path, reading)
	assert.Len(t, got.Readings, len(batch.Readings)+1)
	added := got.Read[len(got.Read)-1]
	assert.Equal(t, "2 mm over white, off a photo", added.Where)
	assert.NotEqual(t, before.Learned.LnStrength, learned("tea-brown").Learned.LnStrength)

	// A dark bait where all others are pale: flagged, in words.
	wrong := get[web.BatchCard](s, "POST", path, anything{"name": "Mixed up", "lab": anything{"L": 5, "a": 0, "b": 0}, "thicknessMM": 2, "ground": "white", "state": "rested", "how": "instrument"})
	assert.Contains(t, learned("tea-brown").Batches[0].Misfits[0], "Mixed up lies ΔE00")

	for _, uid := range []string{added.UID, wrong.Read[len(wrong.Read)-1].UID} {
		get[web.BatchCard](s, "DELETE", path+"/"+uid, nil)
	}
	assert.Equal(t, before, learned("tea-brown"))
	status, _, _ := s.refused("DELETE", path+"/"+added.UID, nil)
	assert.Equal(t, 404, status)

	none := learned("skerry-medium")
	assert.Nil(t, none.Learned)
	assert.Contains(t, none.Says, "Nothing was learned")
	for field, spoil := range map[string]any{"thicknessMM": 0, "name": "", "how": "guessed", "lab": anything{"L": 190, "a": 0, "b": 0}} {
		bad := anything{}
		for k, v := range reading {
			bad[k] = v
		}
		bad[field] = spoil
		status, at, says := s.refused("POST", path, bad)
		assert.Equal(t, 422, status, field)
		assert.Contains(t, at, field)
		assert.NotEmpty(t, says)
	}
	status, _, _ = s.refused("POST", "/batches/nowhere/readings", reading)
	assert.Equal(t, 404, status)
}
