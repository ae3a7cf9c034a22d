// Package age says what becomes of a bait in days: dyes move from plastic that has them into plastic that it lies
// against, pigments stay.
//
// Read Bait first, then says.go. Lengths are in mm, times in days, what is in a cup as the cup has it. How far a dye
// gets is core/heat's Spread, by the bottle's own figure (Colourant.RunsMM); that nothing else moves, that a dye moves
// alike in all plastics, and that it moves across one boundary as if the others were not there, are choices:
// docs/model.md, "In days".
package age
