package store

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type thing struct {
	Name  string `json:"name,omitempty"`
	Grams int    `json:"grams,omitempty"`
}

// A form whose "title" became "name" in version 2, and whose weight became grams in version 3.
var things = form{"thing", []func(map[string]any){
	nil,
	func(d map[string]any) { d["name"], d["title"] = d["title"], nil; delete(d, "title") },
	func(d map[string]any) { d["grams"] = 1000 * d["kilos"].(float64); delete(d, "kilos") },
}}

func TestADocumentOfEveryVersionIsRead(t *testing.T) {
	Strict = true
	want := thing{"It", 2000}
	for _, raw := range []string{
		`{"title":"It","kilos":2}`, `{"v":1,"title":"It","kilos":2}`, `{"v":2,"name":"It","kilos":2}`,
		`{"v":3,"name":"It","grams":2000}`,
	} {
		var got thing
		require.NoError(t, things.read([]byte(raw), &got), raw)
		assert.Equal(t, want, got, raw)
	}
	doc, err := things.write(want)
	require.NoError(t, err)
	assert.Equal(t, `{"v":3,"name":"It","grams":2000}`, doc)
	empty, err := things.write(thing{})
	require.NoError(t, err)
	assert.Equal(t, `{"v":3}`, empty)
	var got thing
	require.NoError(t, things.read([]byte(empty), &got))
	assert.Zero(t, got)
}

func TestADocumentThatIsNoneOfOurs(t *testing.T) {
	Strict = true
	var got thing
	require.ErrorIs(t, things.read([]byte(`{"v":4,"name":"It"}`), &got), ErrNewer)
	require.ErrorContains(t, things.read([]byte(`{"v":3,"colour":"red"}`), &got), "thing that can't be read")
	require.ErrorContains(t, things.read([]byte(`{"v":x}`), &got), "thing that can't be read")
	require.ErrorContains(t, things.read([]byte(`{"v":3,`), &got), "thing that can't be read")
	require.NoError(t, things.read(nil, &got))
}
