package bait

import (
	"context"
	"fmt"
	"math"
	"slices"
	"sync"

	"cloudburst/core/anatomy"
	"cloudburst/core/cores"
	"cloudburst/core/mesh"
)

// Solid is a bait's closed skin, with what is asked of it again and again.
type Solid struct {
	V        [][3]float32
	N        [][3]float32 // which way the skin looks
	Open     []float32    // how much of what lies before the skin is free, 0..1
	T        [][3]int32
	From, To Vec
	ML       float64
	ThinMM   float64 // of its thinnest section
	ThickMM  float64
	lying    bool
	grid     *mesh.Rays // down z, or down y where it lies: what a main view looks through
	body     []section  // by x, in steps of the grid
	bodyTo   float64
	less     slotVolumes
}

// slotVolumes are what hook's slots take of a skin: asked for again and again, and a million rays each.
type slotVolumes struct {
	mu sync.Mutex
	by map[string]float64
}

// mostSlotVolumes is how many sets of slots a skin remembers; a slot that is being drawn wider makes one a step.
const mostSlotVolumes = 64

func (v *slotVolumes) of(slots []Slot, work func() float64) float64 {
	key := fmt.Sprint(slots)
	v.mu.Lock()
	ml, there := v.by[key]
	v.mu.Unlock()
	if there {
		return ml
	}
	ml = work()
	v.mu.Lock()
	defer v.mu.Unlock()
	if v.by == nil || len(v.by) >= mostSlotVolumes {
		v.by = map[string]float64{}
	}
	v.by[key] = ml
	return ml
}

// section is the bait's body cut across at one x.
type section struct{ hy, hz, cy, cz float64 }

// gridMM is how far the rays of the grid lie apart.
const gridMM = 0.2

// meshMM is how finely our own shapes are meshed.
const meshMM = 0.34

// solids are the skins that were made for molds, by what they were made from, some 6 MB each; the ones that were made
// first go first.
var solids = struct {
	sync.Mutex
	by    map[string]func() (*Solid, error)
	order []string
}{by: map[string]func() (*Solid, error){}}

const mostSolids = 20

// solidOf makes a skin once; those who ask meanwhile wait for it.
func solidOf(key string, make func() *Solid) *Solid {
	s, err := solidOr(key, func() (*Solid, error) { return make(), nil })
	if err != nil {
		panic(err) // there is none
	}
	return s
}

// solidOr is the same for one that may not come; then the next who asks tries again.
func solidOr(key string, make func() (*Solid, error)) (*Solid, error) {
	solids.Lock()
	once, there := solids.by[key]
	if !there {
		once = sync.OnceValues(make)
		solids.by[key] = once
		if solids.order = append(solids.order, key); len(solids.order) > mostSolids {
			delete(solids.by, solids.order[0])
			solids.order = solids.order[1:]
		}
	}
	solids.Unlock()
	s, err := once()
	if err != nil {
		solids.Lock()
		delete(solids.by, key)
		solids.Unlock()
	}
	return s, err
}

// grown is the skin of an anatomy.
func grown(b *anatomy.Bait, stepMM float64) *Solid {
	from, to := b.Bounds(3 * stepMM)
	m, err := mesh.Over(context.Background(), b, from, to, stepMM)
	if err != nil {
		panic(err) // nothing ends a background
	}
	m.FitLength(b.LengthMM)
	return NewSolid(m, b.Lying, b.BodyTo)
}

// NewSolid takes a closed mesh over; where it does not say which way its skin looks, that is worked out, with edges
// kept sharp. bodyTo is where the thick part ends, 0 where that is to be found out.
func NewSolid(m *mesh.Mesh, lying bool, bodyTo float64) *Solid {
	if m.N == nil {
		m = m.Creased(math.Pi / 4)
	}
	s := &Solid{V: singles(m.V), N: singles(m.N), T: m.T, lying: lying, ML: m.VolumeML()}
	s.From, s.To = m.Bounds()
	s.lookThrough(bodyTo)
	s.Open = s.openness()
	return s
}

func singles(v []Vec) [][3]float32 {
	out := make([][3]float32, len(v))
	for i, p := range v {
		out[i] = [3]float32{float32(p[0]), float32(p[1]), float32(p[2])}
	}
	return out
}

// Stretched is the skin in another size, by axis.
func (s *Solid) Stretched(by Vec) *Solid {
	o := &Solid{
		T: s.T, Open: s.Open, lying: s.lying, ML: s.ML * by[0] * by[1] * by[2], V: make([][3]float32, len(s.V)),
		N: make([][3]float32, len(s.N)),
	}
	for k := range 3 {
		o.From[k], o.To[k] = s.From[k]*by[k], s.To[k]*by[k]
	}
	for i := range s.V {
		long := 0.0
		for k := range 3 {
			o.V[i][k] = s.V[i][k] * float32(by[k])
			o.N[i][k] = s.N[i][k] / float32(by[k])
			long += float64(o.N[i][k]) * float64(o.N[i][k])
		}
		for k := range 3 {
			o.N[i][k] /= float32(math.Sqrt(max(1e-12, long)))
		}
	}
	o.lookThrough(s.bodyTo * by[0])
	return o
}

// lookThrough sends rays through the skin and finds the body.
func (s *Solid) lookThrough(bodyTo float64) {
	wide, high := int((s.To[0]-s.From[0])/gridMM)+3, int((s.high()-s.low())/gridMM)+3
	v := make([][3]float32, len(s.V))
	for i, p := range s.V {
		x, up, near := s.across(Vec{float64(p[0]), float64(p[1]), float64(p[2])})
		v[i] = [3]float32{float32((x-s.From[0])/gridMM + 1), float32((s.high()-up)/gridMM + 1), float32(near)}
	}
	grid, err := mesh.Cast(context.Background(), v, s.T, wide, high)
	if err != nil {
		panic(err)
	}
	s.grid = grid
	s.sections(bodyTo)
	s.ThinMM, s.ThickMM = s.thicknesses()
}

// across turns a place into the main view: along, up, near.
func (s *Solid) across(p Vec) (x, up, near float64) {
	if s.lying {
		return p[0], -p[2], p[1]
	}
	return p[0], p[1], p[2]
}

func (s *Solid) low() float64 {
	if s.lying {
		return -s.To[2]
	}
	return s.From[1]
}

func (s *Solid) high() float64 {
	if s.lying {
		return -s.From[2]
	}
	return s.To[1]
}

// span is a stretch between two places, the lesser first.
type span struct{ from, to float64 }

func (s span) length() float64 { return max(0, s.to-s.from) }

func (s span) and(o span) span { return span{max(s.from, o.from), min(s.to, o.to)} }

// ray gives the stretches of plastic, as heights of near, that lie under a ray of the grid.
func (s *Solid) ray(x, y int, into []span) []span {
	if x < 0 || y < 0 || x >= s.grid.Wide || y >= s.grid.High {
		return into
	}
	mesh.Inside(s.grid.At(x, y), func(in, out mesh.Hit) { into = append(into, span{float64(out.Z), float64(in.Z)}) })
	return into
}

// stretches are the same as a ray from far before the bait has them, with how steeply it goes through the skin.
func (s *Solid) stretches(x, y int, far float64, into []Stretch) []Stretch {
	axis := 2
	if s.lying {
		axis = 1
	}
	mesh.Inside(s.grid.At(x, y), func(in, out mesh.Hit) {
		into = append(
			into, Stretch{
				far - float64(in.Z), far - float64(out.Z), s.steep(in.Face(), axis), s.steep(out.Face(), axis),
			},
		)
	})
	return into
}

// steep is how far a triangle looks along an axis.
func (s *Solid) steep(face, axis int) float64 {
	a := s.corner(face, 0)
	n := s.corner(face, 1).Minus(a).Cross(s.corner(face, 2).Minus(a))
	if l := n.Long(); l > 0 {
		return math.Abs(n[axis]) / l
	}
	return 1
}

// gridAt is where a place of the main view lies on the grid.
func (s *Solid) gridAt(x, up float64) (gx, gy float64) {
	return (x-s.From[0])/gridMM + 1, (s.high()-up)/gridMM + 1
}

// through is the plastic under a point of the main view: between the four rays about it where all go through the same,
// else as the nearest ray has it.
func (s *Solid) through(x, up float64) []span {
	gx, gy := s.gridAt(x, up)
	if !(gx > -1 && gy > -1) {
		return nil
	}
	x0, y0 := int(math.Floor(gx)), int(math.Floor(gy))
	fx, fy := gx-float64(x0), gy-float64(y0)
	var corners [4][]span
	same := true
	for k := range corners {
		corners[k] = s.ray(x0+k&1, y0+k>>1, nil)
		same = same && len(corners[k]) == len(corners[0])
	}
	if !same {
		k := 0
		if fx >= 0.5 {
			k++
		}
		if fy >= 0.5 {
			k += 2
		}
		return corners[k]
	}
	out := corners[0]
	for i := range out {
		mix := func(get func(span) float64) float64 {
			top := get(corners[0][i])*(1-fx) + get(corners[1][i])*fx
			return top*(1-fy) + (get(corners[2][i])*(1-fx)+get(corners[3][i])*fx)*fy
		}
		out[i] = span{mix(func(s span) float64 { return s.from }), mix(func(s span) float64 { return s.to })}
	}
	return out
}

// Holds says whether a place lies in the plastic.
func (s *Solid) Holds(p Vec) bool {
	x, up, near := s.across(p)
	gx, gy := s.gridAt(x, up)
	ix, iy := int(gx+0.5), int(gy+0.5)
	if gx < 0 || gy < 0 || ix >= s.grid.Wide || iy >= s.grid.High {
		return false
	}
	depth := 0
	for _, h := range s.grid.At(ix, iy) {
		if float64(h.Z) < near {
			break
		}
		if h.Enters() {
			depth++
		} else {
			depth--
		}
	}
	return depth > 0
}

// bodyShare is how thick a place must be, against the thickest of its section, to belong to the body.
const bodyShare = 0.28

// sections finds the body: at each x the part about the middle that is not a fin's.
func (s *Solid) sections(bodyTo float64) {
	s.body = make([]section, s.grid.Wide)
	areas := make([]float64, s.grid.Wide)
	thick, across := make([]float64, s.grid.High), make([]span, s.grid.High)
	var spans []span
	for x := range s.body {
		most, sum, at := 0.0, 0.0, 0.0
		for y := range thick {
			spans = s.ray(x, y, spans[:0])
			thick[y], across[y] = 0, span{}
			if len(spans) > 0 {
				for _, p := range spans {
					thick[y] += p.length()
				}
				across[y] = span{spans[len(spans)-1].from, spans[0].to}
			}
			most = max(most, thick[y])
			sum += thick[y] * thick[y]
			at += float64(y) * thick[y] * thick[y]
		}
		areas[x] = sum
		if sum == 0 {
			continue
		}
		from := int(at/sum + 0.5)
		if thick[from] < bodyShare*most { // two parts beside each other: the thicker one
			from = slices.Index(thick, most)
		}
		to := from
		for from > 0 && thick[from-1] > bodyShare*most {
			from--
		}
		for to < len(thick)-1 && thick[to+1] > bodyShare*most {
			to++
		}
		half := float64(to-from+1) / 2 * gridMM
		centre := s.high() - (float64(from+to)/2-1)*gridMM
		deep := across[(from+to)/2]
		c := section{hy: half, cy: centre, hz: deep.length() / 2, cz: (deep.from + deep.to) / 2}
		if s.lying {
			c = section{hy: c.hz, cy: c.cz, hz: half, cz: -centre}
		}
		s.body[x] = c
	}
	if s.bodyTo = bodyTo; bodyTo <= 0 {
		const thin = 0.1
		most := slices.Max(areas)
		last := 0
		for x, a := range areas {
			if a > thin*most {
				last = x
			}
		}
		s.bodyTo = s.From[0] + float64(last-1)*gridMM
	}
}

// at is the body cut across at an x.
func (s *Solid) at(x float64) section {
	i := int((x-s.From[0])/gridMM + 1.5)
	return s.body[min(len(s.body)-2, max(1, i))]
}

// Sections that are flat: from ray to ray they change by no more than a share of their thickness. What is thinner than
// most others of them by so much is left out, since every edge is thin somewhere.
const (
	flatShare = 0.12
	thinEnds  = 0.04
)

// thicknesses are those of the thinnest and of the thickest section, as the main view looks through them: the thinnest
// of the flat ones, and the middle of the body where it is thickest.
func (s *Solid) thicknesses() (thin, thick float64) {
	var flat []float64
	var spans []span
	mm := make([]float64, s.grid.High)
	last := make([]float64, s.grid.High)
	for x := range s.grid.Wide {
		mm, last = last, mm
		for y := range mm {
			spans = s.ray(x, y, spans[:0])
			mm[y] = 0
			for _, p := range spans {
				mm[y] += p.length()
			}
		}
		for y := 1; y < len(mm)-1; y++ {
			if m := mm[y]; m > 0 && math.Abs(mm[y-1]-m) < flatShare*m && math.Abs(mm[y+1]-m) < flatShare*m &&
				math.Abs(last[y]-m) < flatShare*m {
				flat = append(flat, m)
			}
		}
		c := s.body[x]
		if c.hy > 0 && s.From[0]+float64(x-1)*gridMM <= s.bodyTo {
			_, gy := s.gridAt(0, c.cy)
			if s.lying {
				_, gy = s.gridAt(0, -c.cz)
			}
			thick = max(thick, mm[min(len(mm)-1, max(0, int(gy+0.5)))])
		}
	}
	tenths := func(mm float64) float64 { return math.Round(10*mm) / 10 } // no more is known of a bait
	if len(flat) == 0 {
		return tenths(thick), tenths(thick)
	}
	slices.Sort(flat)
	return tenths(min(thick, flat[int(thinEnds*float64(len(flat)))])), tenths(thick)
}

func (s *Solid) corner(face, k int) Vec {
	v := s.V[s.T[face][k]]
	return Vec{float64(v[0]), float64(v[1]), float64(v[2])}
}

// openness asks, for every corner, how many of the ways out of the skin are free near by.
func (s *Solid) openness() []float32 {
	ways := []Vec{}
	for x := -1.0; x <= 1; x++ {
		for y := -1.0; y <= 1; y++ {
			for z := -1.0; z <= 1; z++ {
				if v := (Vec{x, y, z}); v.Long() > 0 {
					ways = append(ways, v.Times(1/v.Long()))
				}
			}
		}
	}
	out := make([]float32, len(s.V))
	const some = 2048
	if err := cores.Each(context.Background(), (len(out)+some-1)/some, func(k int) error {
		for i := k * some; i < min(len(out), (k+1)*some); i++ {
			out[i] = s.open(vecOf(s.V[i]), vecOf(s.N[i]), ways)
		}
		return nil
	}); err != nil {
		panic(err)
	}
	// The grid is coarse beside the mesh: neighbours share.
	for range 3 {
		sum, n := make([]float32, len(out)), make([]float32, len(out))
		for _, t := range s.T {
			for k := range 3 {
				sum[t[k]] += out[t[(k+1)%3]] + out[t[(k+2)%3]]
				n[t[k]] += 2
			}
		}
		for i := range out {
			if n[i] > 0 {
				out[i] = (out[i] + sum[i]/n[i]) / 2
			}
		}
	}
	return out
}

// openReachesMM are how far out it is looked.
var openReachesMM = [...]float64{0.7, 1.4, 2.6, 4.5}

func (s *Solid) open(p, n Vec, ways []Vec) float32 {
	free, all := 0.0, 0.0
	for _, w := range ways {
		facing := w.Dot(n)
		if facing < 0.2 {
			continue
		}
		all += facing
		share := 1.0
		for k, r := range openReachesMM {
			if s.Holds(p.Plus(n.Times(0.3)).Plus(w.Times(r))) {
				share = float64(k) / float64(len(openReachesMM))
				break
			}
		}
		free += facing * share
	}
	return float32(free / max(1e-9, all))
}

func vecOf(v [3]float32) Vec { return Vec{float64(v[0]), float64(v[1]), float64(v[2])} }

// Mesh is the skin as a mesh, to be written to a file.
func (s *Solid) Mesh() *mesh.Mesh {
	m := &mesh.Mesh{T: s.T, V: make([]Vec, len(s.V))}
	for i, v := range s.V {
		m.V[i] = vecOf(v)
	}
	return m
}

func keyOf(name string, by ...float64) string { return fmt.Sprint(name, by) }
