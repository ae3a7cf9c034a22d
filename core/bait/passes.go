package bait

import (
	"fmt"

	"cloudburst/core/measure"
)

// Grade says how flake goes through a gate.
type Grade string

// The grades.
const (
	Fits  Grade = "fits"
	Folds Grade = "folds"
	Block Grade = "blocks"
)

// Words says it in a maker's words.
func (g Grade) Words() string {
	return map[Grade]string{Fits: "fits", Folds: "folds through", Block: "will block"}[g]
}

// Shares of a gate's width up to which a piece fits, and folds through. Starting values; a maker's own verdict counts
// more.
const (
	fitsShare  = 1.0 / 3
	foldsShare = 1.0
)

// Passage is what a size of flake does in a mold.
type Passage struct {
	Grade   Grade  `json:"grade" enum:"fits,folds,blocks"`
	Words   string `json:"words"`
	Own     bool   `json:"own" doc:"The maker's own verdict"`
	Section string `json:"section,omitempty" doc:"Where a piece is larger than a section, and stays out of it"`
}

// Passage grades a piece, across its flats, against the mold's gate and sections.
func (m *Mold) Passage(uid string, sizeMM float64) Passage {
	s := m.Bait()
	p := Passage{Grade: Fits}
	switch {
	case m.GateMM <= 0: // open
	case sizeMM > foldsShare*m.GateMM:
		p.Grade = Block
	case sizeMM > fitsShare*m.GateMM:
		p.Grade = Folds
	}
	if own, ok := m.Passes[uid]; ok {
		p.Grade, p.Own = own, true
	}
	p.Words = p.Grade.Words()
	if thin := s.ThinnestMM(); sizeMM > s.ThickestMM() {
		p.Section = fmt.Sprintf("at %s mm it is larger than any section of the bait", measure.Number(sizeMM, 2))
	} else if sizeMM > thin {
		p.Section = fmt.Sprintf(
			"at %s mm it is larger than the thinnest section, %s mm, and stays out of it", measure.Number(sizeMM, 2),
			measure.Number(thin, 1),
		)
	}
	return p
}
