// Package heat is what heat does to plastic: in the cup, in the mold, and over time.
//
// Read cup.go (bursts in a microwave, cooling, and their calibration by a thermometer), dose.go (how much heat plastic
// has taken), mold.go (a section cooling between walls: skin, demoulding, bonding to the next layer), settle.go (what
// sinks in a hot cup), bleed.go (a dye crossing from one layer to the next).
//
// Units: °C, s, min where named, W, g, J/(g K), mm, mm²/s, Pa s, g/ml.
//
// Source: docs/model.md ("Heat and time"). Newton's law of cooling; Arrhenius' law for the heat dose; Fourier's series
// for a slab (Carslaw and Jaeger 1959, 3.3); Stokes' law for settling; Fick's second law for bleeding (Crank 1975, 2.1
// and 4.3.4).
package heat
