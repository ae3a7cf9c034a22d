// Package project is what test batches are poured after: the parts of a bait, the colour that each is to have, and the
// line under which it is good enough. It judges every batch beside that, and says what to pour next.
//
// Read project.go (what is sought), judge.go (how near a batch came), next.go (what to do).
//
// Units: ΔE00, mm, ml.
//
// Source: docs/model.md ("Learning"). What was not read as the reference was is moved there by what the model says of
// the difference; the screens say so.
package project
