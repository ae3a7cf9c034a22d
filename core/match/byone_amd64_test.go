package match_test

import (
	"testing"

	. "cloudburst/core/match"
)

// The same one band at a time, as on other processors.
func TestOneBandAtATime(t *testing.T) {
	defer ByOne()()
	t.Run("tables", TestTablesAgainstTheFormulas)
	t.Run("slope", TestSlopeIsTheDerivative)
}
