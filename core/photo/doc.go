// Package photo undoes the light of a photo and reads colours off it: plain images in, colours with their expected
// error out.
//
// Read picture.go, light.go (by a white and a grey thing, or a bare lamp), even.go (uneven light), card.go (by a card),
// disc.go (a pinned spot), told.go (readings that no photo gave).
//
// Units: places in px of the upright photo, Lab under D65, errors in ΔE00.
//
// Source: docs/model.md, decision 7 (the light of a photo).
package photo
