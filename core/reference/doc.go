// Package reference says what the readings of a bait, or of a bag of them, come to together.
//
// Read bag.go (what a bag's baits differ by, and which is odd), tint.go (one plastic tinted through, or a clear one
// over a back).
//
// Units: Lab under D65, thickness in mm, differences in ΔE00.
//
// Source: decision 8 (references).
package reference
