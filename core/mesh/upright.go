package mesh

import (
	"bytes"
	"compress/gzip"
	"encoding/binary"
	"errors"
	"io"
	"math"

	"cloudburst/core/fit"
)

// Upright turns a body as a bait lies: its longest way along x with the thicker end first, its higher way up y. Which
// of the two ways up is its back, the maker has to say.
func (m *Mesh) Upright() {
	middle, cov := m.spread()
	x := Vec(fit.Widest(cov))
	// The others lie across it: the wider of the two goes up.
	u := Vec{0, 0, 1}
	if math.Abs(x[2]) > 0.9 {
		u = Vec{0, 1, 0}
	}
	u = u.Minus(x.Times(u.Dot(x)))
	u = u.Times(1 / u.Long())
	v := x.Cross(u)
	along := func(a, b Vec) (sum float64) {
		for i := range 3 {
			for k := range 3 {
				sum += a[i] * cov[i][k] * b[k]
			}
		}
		return sum
	}
	turn := 0.5 * math.Atan2(2*along(u, v), along(u, u)-along(v, v))
	sin, cos := math.Sincos(turn)
	y := u.Times(cos).Plus(v.Times(sin))
	m.turn(middle, x, y)
	// The thicker end is the one that holds more beyond the middle of the length.
	from, to := m.Bounds()
	half, before, behind := (from[0]+to[0])/2, 0.0, 0.0
	for _, t := range m.T {
		a, b, c := m.V[t[0]], m.V[t[1]], m.V[t[2]]
		at := (a[0] + b[0] + c[0]) / 3
		if area := b.Minus(a).Cross(c.Minus(a)).Long(); at < half {
			before += area
		} else {
			behind += area
		}
	}
	if behind > before {
		m.Half(1)
	}
}

// Half turns it by half a turn about an axis: 0 x, 1 y, 2 z.
func (m *Mesh) Half(axis int) {
	for i := range m.V {
		for k := range 3 {
			if k != axis {
				m.V[i][k] = -m.V[i][k]
			}
		}
	}
}

// Quarter rolls it by a quarter of a turn about its length: what was up comes towards you.
func (m *Mesh) Quarter() {
	for i, v := range m.V {
		m.V[i] = Vec{v[0], -v[2], v[1]}
	}
}

// Centre lays its middle onto the axis.
func (m *Mesh) Centre() {
	from, to := m.Bounds()
	middle := from.Plus(to).Times(0.5)
	for i := range m.V {
		m.V[i][1] -= middle[1]
		m.V[i][2] -= middle[2]
	}
}

// turn makes two ways the new x and y.
func (m *Mesh) turn(middle, x, y Vec) {
	z := x.Cross(y)
	for i, v := range m.V {
		p := v.Minus(middle)
		m.V[i] = Vec{p.Dot(x), p.Dot(y), p.Dot(z)}
	}
}

// spread is the middle of its skin, and how far the skin spreads about it, by area.
func (m *Mesh) spread() (middle Vec, cov [3][3]float64) {
	all := 0.0
	for _, t := range m.T {
		a, b, c := m.V[t[0]], m.V[t[1]], m.V[t[2]]
		area := b.Minus(a).Cross(c.Minus(a)).Long()
		middle = middle.Plus(a.Plus(b).Plus(c).Times(area / 3))
		all += area
	}
	middle = middle.Times(1 / max(1e-12, all))
	for _, t := range m.T {
		a, b, c := m.V[t[0]].Minus(middle), m.V[t[1]].Minus(middle), m.V[t[2]].Minus(middle)
		area, sum := b.Minus(a).Cross(c.Minus(a)).Long(), a.Plus(b).Plus(c)
		for i := range 3 {
			for k := range 3 { // over a triangle, exactly
				cov[i][k] += area / 12 * (a[i]*a[k] + b[i]*b[k] + c[i]*c[k] + sum[i]*sum[k])
			}
		}
	}
	return middle, cov
}

// packed marks how a mesh is kept: gzipped counts, corners as three float32 each, triangles as three int32 each.
const packed = "skin1"

// Pack writes it to be kept.
func (m *Mesh) Pack() ([]byte, error) {
	var out bytes.Buffer
	out.WriteString(packed)
	z := gzip.NewWriter(&out)
	v := make([]float32, 0, 3*len(m.V))
	for _, p := range m.V {
		v = append(v, float32(p[0]), float32(p[1]), float32(p[2]))
	}
	err := errors.Join(
		binary.Write(z, binary.LittleEndian, [2]uint32{uint32(len(m.V)), uint32(len(m.T))}),
		binary.Write(z, binary.LittleEndian, v), binary.Write(z, binary.LittleEndian, m.T), z.Close(),
	)
	return out.Bytes(), err
}

var errPacked = errors.New("this is no mesh as it is kept")

// Unpack reads what Pack wrote.
func Unpack(raw []byte) (*Mesh, error) {
	rest, ok := bytes.CutPrefix(raw, []byte(packed))
	if !ok {
		return nil, errPacked
	}
	z, err := gzip.NewReader(bytes.NewReader(rest))
	if err != nil {
		return nil, err
	}
	var n [2]uint32
	if err := binary.Read(z, binary.LittleEndian, &n); err != nil {
		return nil, err
	}
	if n[0] > 3*MaxTriangles || n[1] > MaxTriangles {
		return nil, errPacked
	}
	v, m := make([]float32, 3*n[0]), &Mesh{V: make([]Vec, n[0]), T: make([][3]int32, n[1])}
	if err := errors.Join(
		binary.Read(z, binary.LittleEndian, v), binary.Read(z, binary.LittleEndian, m.T),
	); err != nil {
		return nil, err
	}
	for i := range m.V {
		m.V[i] = Vec{float64(v[3*i]), float64(v[3*i+1]), float64(v[3*i+2])}
	}
	for _, t := range m.T {
		for _, k := range t {
			if k < 0 || int(k) >= len(m.V) {
				return nil, errPacked
			}
		}
	}
	if _, err := io.Copy(io.Discard, io.LimitReader(z, 1)); err != nil {
		return nil, err
	}
	return m, nil
}
