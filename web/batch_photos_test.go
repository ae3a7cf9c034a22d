package web_test

import (
	"net/http"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A batch gets its photos as they come: the second when it has rested, the third when it was fished. One that is added
// twice is there once.
func TestABatchGetsPhotosAsTheyCome(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	raw, err := os.ReadFile("../e2e/testdata/bait.jpg")
	require.NoError(t, err)
	type photographed struct {
		UID, Photo string
		Photos     []string
	}
	batch := list[photographed](s, "/batches")[0]
	was := len(batch.Photos)
	photo := get[card](s, "POST", "/photos", raw).UID
	at := "/batches/" + batch.UID + "/photos"
	for range 2 {
		batch = get[photographed](s, "POST", at, anything{"photo": photo})
		assert.Len(t, batch.Photos, was+1)
		assert.Equal(t, photo, batch.Photos[was])
	}
	s.key = "taken-out-once"
	for range 2 { // the answer was lost, and it is sent again
		batch = get[photographed](s, "DELETE", at+"/"+photo, nil)
		assert.Len(t, batch.Photos, was)
	}
	s.key = ""
	status, field, says := s.refused("POST", at, anything{"photo": "no-such-photo"})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Equal(t, "body.photo", field)
	assert.Contains(t, says, "take it once more")
	status, _, _ = s.refused("POST", "/batches/no-such-batch/photos", anything{"photo": photo})
	assert.Equal(t, http.StatusNotFound, status)
	for range 12 {
		get[photographed](s, "POST", at, anything{"photo": get[card](s, "POST", "/photos", raw).UID})
	}
	_, _, says = s.refused("POST", at, anything{"photo": photo})
	assert.Contains(t, says, "up to 12 photos")
}
