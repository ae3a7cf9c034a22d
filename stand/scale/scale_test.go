package scale

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestABottleGetsLighter(t *testing.T) {
	s := New(1)
	last := s.Weigh("a")
	assert.InDelta(t, 90, last, 31)
	for range 20 {
		now := s.Weigh("a")
		assert.Less(t, now, last-2*dropG)
		assert.Greater(t, now, last-16*dropG)
		last = now
	}
	assert.Equal(t, New(1).Weigh("b"), New(1).Weigh("b"))
}
