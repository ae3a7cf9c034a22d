package optics

import (
	"math"

	"cloudburst/core/colour"
)

// HostIndex is the refractive index of the plastic.
const HostIndex = 1.50

// WaterIndex is that of water.
const WaterIndex = 1.33

// Film is a thin layer that reflects one hue and lets its complement through: the coat of an interference powder or
// a clear interference flake. Either the indices are given, and the amplitudes follow from Fresnel's equations, or
// signed amplitudes R1 and R2 are given as they are (strong shifters with a metal core).
type Film struct {
	Index       float64 `json:"index" minimum:"1" maximum:"4" doc:"Refractive index of the film"`
	BackIndex   float64 `json:"backIndex" minimum:"1" maximum:"4" doc:"Index of what lies under it"`
	ThicknessNM float64 `json:"thicknessNM" minimum:"0" maximum:"2000"`
	R1          float64 `json:"r1,omitempty" minimum:"-1" maximum:"1" doc:"Signed amplitude at the front, instead of the indices"`
	R2          float64 `json:"r2,omitempty" minimum:"-1" maximum:"1" doc:"Signed amplitude at the back"`
}

// Reflects is the film's reflectance at an angle inside the plastic, in degrees from face-on.
//
// Airy's sum for one film with signed amplitudes: φ = 4π·n·d·cosθ_f/λ,
// R = (r1²+r2²+2·r1·r2·cosφ)/(1+r1²r2²+2·r1·r2·cosφ); away from face-on the mean of both polarisations.
func (f *Film) Reflects(angleDeg float64) colour.Spectrum {
	sin, cos := math.Sincos(angleDeg * math.Pi / 180)
	sinF := HostIndex * sin / f.Index
	if sinF >= 1 { // beyond the film's own critical angle nothing gets in
		return colour.Flat(1)
	}
	cosF := math.Sqrt(1 - sinF*sinF)
	r1, r2 := [2]float64{f.R1, f.R1}, [2]float64{f.R2, f.R2}
	if f.R1 == 0 && f.R2 == 0 {
		sinB := HostIndex * sin / f.BackIndex
		r1[0], r1[1] = fresnel(HostIndex, f.Index, cos, cosF)
		if sinB >= 1 {
			r2 = [2]float64{1, 1}
		} else {
			r2[0], r2[1] = fresnel(f.Index, f.BackIndex, cosF, math.Sqrt(1-sinB*sinB))
		}
	}
	var out colour.Spectrum
	for b := range out {
		cosPhi := math.Cos(4 * math.Pi * f.Index * f.ThicknessNM * cosF / colour.NM(b))
		for p := range r1 {
			cross := 2 * r1[p] * r2[p] * cosPhi
			out[b] += (r1[p]*r1[p] + r2[p]*r2[p] + cross) / (1 + r1[p]*r1[p]*r2[p]*r2[p] + cross) / 2
		}
	}
	return out
}

// fresnel gives the signed amplitudes of both polarisations at a boundary from index n to m. The sign of the second
// is chosen so that both agree face-on.
func fresnel(n, m, cosN, cosM float64) (s, p float64) {
	s = (n*cosN - m*cosM) / (n*cosN + m*cosM)
	p = (n*cosM - m*cosN) / (n*cosM + m*cosN)
	return s, p
}

// InsidePlastic is the angle inside the plastic of what is tilted by that much outside: sinθ = sin(tilt)/1.50.
func InsidePlastic(tiltDeg float64) float64 {
	return math.Asin(math.Sin(tiltDeg*math.Pi/180)/HostIndex) * 180 / math.Pi
}
