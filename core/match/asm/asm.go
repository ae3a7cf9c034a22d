//go:build ignore

// Asm writes bands_amd64.s: a whole piece's bands, four at a time. Run by go generate.
package main

import (
	"fmt"
	"math"

	. "github.com/mmcloughlin/avo/build"
	. "github.com/mmcloughlin/avo/operand"
	"github.com/mmcloughlin/avo/reg"
)

// The plastic's faces, as in forward.go.
const (
	k1, kD, inside = 0.04, 0.092, 0.596
	half           = (1 - inside) / 2
	seriesBelow    = 0.01 // of z
	mostGroups     = 9    // of four bands
)

var constants = map[uint64]Mem{}

// num is a constant in all four lanes, in memory.
func num(v float64) Mem { return word(math.Float64bits(v)) }

func word(bits uint64) Mem {
	m, ok := constants[bits]
	if !ok {
		m = GLOBL(fmt.Sprintf("num%d", len(constants)), RODATA|NOPTR)
		for i := range 4 {
			DATA(8*i, U64(bits))
		}
		constants[bits] = m
	}
	return m
}

type vec = reg.VecVirtual

// operations on four bands; b may be memory.
func mul(a vec, b Op) vec { x := YMM(); VMULPD(b, a, x); return x }
func add(a vec, b Op) vec { x := YMM(); VADDPD(b, a, x); return x }
func sub(a vec, b Op) vec { x := YMM(); VSUBPD(b, a, x); return x } // a − b
func div(a, b vec) vec    { x := YMM(); VDIVPD(b, a, x); return x } // a / b
func load(m Op) vec       { x := YMM(); VMOVUPD(m, x); return x }
func root(a vec) vec      { x := YMM(); VSQRTPD(a, x); return x }

// fma is a·b + c, fms a·b − c, nma c − a·b.
func fma(a vec, b Op, c vec) vec { x := YMM(); VMOVAPD(c, x); VFMADD231PD(b, a, x); return x }
func fms(a vec, b Op, c vec) vec { x := YMM(); VMOVAPD(c, x); VFMSUB231PD(b, a, x); return x }
func nma(a vec, b Op, c vec) vec { x := YMM(); VMOVAPD(c, x); VFNMADD231PD(b, a, x); return x }

// horner is a polynomial in x, the constant first.
func horner(x vec, c ...float64) vec {
	sum := load(num(c[len(c)-1]))
	for i := len(c) - 2; i >= 0; i-- {
		VFMADD213PD(num(c[i]), x, sum) // sum·x + c
	}
	return sum
}

// expMinus is e^−y for y ≥ 0: 2^−n times a polynomial of what is left.
func expMinus(y vec) vec {
	const magic = 3 << 51
	y2 := YMM()
	VMINPD(num(60), y, y2)
	t := fma(y2, num(math.Log2E), load(num(magic)))
	n := sub(t, num(magic))
	r := nma(n, num(math.Ln2), y2) // y − n·ln2
	var c []float64
	f := 1.0
	for i := range 8 {
		if i > 0 {
			f *= -float64(i)
		}
		c = append(c, 1/f)
	}
	p := horner(r, c...)
	bits := YMM()
	VPSLLQ(U8(52), t, bits)
	out := YMM()
	VPSUBQ(bits, p, out)
	return out
}

// local keeps a value on the stack.
type frame struct {
	mem  Mem
	used int
}

func (f *frame) keep(v vec) Mem {
	m := f.mem.Offset(32 * f.used)
	f.used++
	VMOVUPD(v, m)
	return m
}

// face gives a face's c·(1±q) and, with slopes, their derivatives by cone; q besides.
type face struct{ c, q, plus, minus, dc vec }

func faceOf(k float64, cone vec, slopes bool) face {
	q := mul(cone, num(k))
	qq := mul(q, q)
	var f face
	f.q = q
	series := []float64{1 - k, 1 - k, 1 - k, 1 - k} // (1−k)/(1−q²)
	if k == k1 {
		series = series[:3] // q is small enough
	}
	f.c = horner(qq, series...)
	if slopes { // dc = (1−k)·2q·k·(1 + 2qq + 3qq²)
		f.dc = mul(horner(qq, 2*k*(1-k), 4*k*(1-k), 6*k*(1-k)), q)
	}
	cq := mul(f.c, q)
	f.plus, f.minus = add(f.c, cq), sub(f.c, cq)
	return f
}

// dFace are the derivatives of plus and minus by cone: dc(1±q) ± c·k.
func (f face) slopes(k float64) (dPlus, dMinus vec) {
	ck := mul(f.c, num(k))
	dq := mul(f.dc, f.q)
	return add(add(f.dc, dq), ck), sub(sub(f.dc, dq), ck)
}

func kernel(name string, against, slopes bool) {
	sig := "func(k, s, ground, w *float64, mm, glow float64, groups int, xyz"
	if slopes {
		sig += ", dk, ds"
	}
	TEXT(name, 0, sig+" *float64)")
	Pragma("noescape")
	k, s := Load(Param("k"), GP64()), Load(Param("s"), GP64())
	w := Load(Param("w"), GP64())
	ground := Load(Param("ground"), GP64())
	groups := Load(Param("groups"), GP64())
	mmX := Load(Param("mm"), XMM())
	glowX := Load(Param("glow"), XMM())
	st := &frame{mem: AllocLocal(32 * 48)}
	mm0 := YMM()
	VBROADCASTSD(mmX.(reg.VecVirtual).AsX(), mm0)
	mm := st.keep(mm0)
	glow0 := YMM()
	VBROADCASTSD(glowX.(reg.VecVirtual).AsX(), glow0)
	glow := st.keep(glow0)
	zero := YMM()
	VXORPD(zero, zero, zero)
	sx, sy, sz := st.keep(zero), st.keep(zero), st.keep(zero)
	var dk, ds reg.Register
	if slopes {
		dk, ds = Load(Param("dk"), GP64()), Load(Param("ds"), GP64())
	}
	rows := AllocLocal(32 * mostGroups * 4) // what the first loop works out for the second
	at, end := GP64(), GP64()
	XORQ(at, at)
	SHLQ(U8(5), groups)
	MOVQ(groups, end)
	row := func(n int) Mem { return rows.Offset(32*mostGroups*n).Idx(at, 1) }
	rowCone, rowH, rowG, rowDG := row(0), row(1), row(2), row(3)
	begin := st.used

	// Two loops, each short enough for the processor to have several groups under way.
	Label(name + "_inside")
	a, b := mul(load(Mem{Base: k}.Idx(at, 1)), mm), mul(load(Mem{Base: s}.Idx(at, 1)), mm)
	far := fma(b, num(2), a)
	z := mul(a, far)
	VMOVUPD(expMinus(far), rowCone)
	u := YMM()
	VMAXPD(num(1e-9), root(z), u) // of a clear slab 0, which nothing can be divided by
	e := expMinus(u)
	ee := mul(e, e)
	one := load(num(1))
	over := div(one, mul(u, add(ee, one))) // 1/(u(1 + e²))
	h := mul(mul(add(e, e), u), over)
	VMOVUPD(h, rowH)
	g := mul(sub(one, ee), over)
	small := YMM()
	VCMPPD(U8(1), num(seriesBelow), z, small) // z < bound
	// tanh(√z)/√z = Σ c·zⁿ
	c := []float64{1, -1.0 / 3, 2.0 / 15, -17.0 / 315, 62.0 / 2835}
	gs := horner(z, c...)
	gg := YMM()
	VBLENDVPD(small, gs, g, gg)
	VMOVUPD(gg, rowG)
	if slopes {
		dg := div(sub(mul(h, h), gg), add(z, z))
		var dc []float64
		for i := 1; i < len(c); i++ {
			dc = append(dc, float64(i)*c[i])
		}
		dgs := horner(z, dc...)
		d := YMM()
		VBLENDVPD(small, dgs, dg, d)
		VMOVUPD(d, rowDG)
	}
	ADDQ(Imm(32), at)
	CMPQ(at, end)
	JNE(LabelRef(name + "_inside"))

	XORQ(at, at)
	Label(name + "_loop")
	st.used = begin
	a, b = mul(load(Mem{Base: k}.Idx(at, 1)), mm), mul(load(Mem{Base: s}.Idx(at, 1)), mm)
	as := add(a, b)
	mCone, mH, mG, mDG := rowCone, rowH, rowG, rowDG
	gg = load(mG)
	sg := mul(gg, b)
	den := add(mul(gg, as), num(1))
	var light, cone vec
	if !slopes { // all of it fits into registers
		h, cone := load(mH), load(mCone)
		hk, sgk := mul(h, num(inside)), mul(sg, num(inside))
		denP, denM := sub(sub(den, hk), sgk), sub(add(den, hk), sgk)
		beam := nma(cone, den, h)
		all := mul(denP, denM)
		p, m := mul(add(sg, beam), denM), mul(sub(sg, beam), denP)
		f := faceOf(k1, cone, false)
		uu, ww := mul(f.plus, p), mul(f.minus, m)
		t := mul(mul(cone, f.c), num(1-k1))
		through := fma(sub(uu, ww), num(half), mul(t, all))
		if against {
			light = div(through, all)
		} else {
			body := mul(add(uu, ww), num(half))
			f = faceOf(kD, cone, false)
			inner := mul(mul(mul(cone, f.c), f.q), num(1-kD)) // (1−kD)·cone·c·q
			bb := mul(add(inner, num(kD)), all)
			bb = fma(add(mul(f.plus, p), mul(f.minus, m)), num(half), bb)
			rho := load(Mem{Base: ground}.Idx(at, 1))
			open := nma(rho, bb, all)
			top := mul(fma(through, glow, body), open)
			top = fma(mul(through, rho), through, top)
			light = div(top, mul(open, all))
		}
	} else {
		mA, mB, mAS := st.keep(a), st.keep(b), st.keep(as)
		inv := div(load(num(1)), den)
		r, t := mul(sg, inv), mul(load(mH), inv)
		mInv, mR, mT := st.keep(inv), st.keep(r), st.keep(t)
		sum, diff := add(r, t), sub(r, t)
		one := load(num(1))
		ps, ms := div(one, nma(sum, num(inside), one)), div(one, nma(diff, num(inside), one))
		cone = load(mCone)
		p, m := mul(sub(sum, cone), ps), mul(add(diff, cone), ms)
		mPs, mMs, mP, mM := st.keep(ps), st.keep(ms), st.keep(p), st.keep(m)
		// pS = ps(1+k·p), mD = ms(1+k·m)
		pS, mD := mul(fma(p, num(inside), one), ps), mul(fma(m, num(inside), one), ms)
		mPS, mMD := st.keep(pS), st.keep(mD)
		type by struct{ sum, diff, cone, up, down Mem }
		f := faceOf(k1, load(mCone), true)
		mC, mDC := st.keep(f.c), st.keep(f.dc)
		mPlus, mMinus := st.keep(f.plus), st.keep(f.minus)
		dPlus, dMinus := f.slopes(k1)
		mDPlus, mDMinus := st.keep(dPlus), st.keep(dMinus)
		uu, ww := mul(load(mPlus), mP), mul(load(mMinus), mM)
		cone = load(mCone)
		beam := mul(mul(cone, mC), num(1-k1))
		mThrough := st.keep(fma(sub(uu, ww), num(half), beam))
		mBody := st.keep(mul(add(uu, ww), num(half)))
		mTSum := st.keep(mul(mul(load(mPlus), mPS), num(half)))
		mBDiff := st.keep(mul(mul(load(mMinus), mMD), num(half))) // tDiff is its opposite
		// x = dPlus·p − plus·ps, y = dMinus·m + minus·ms
		x := fms(load(mDPlus), mP, mul(load(mPlus), mPs))
		y := fma(load(mDMinus), mM, mul(load(mMinus), mMs))
		own := mul(fma(load(mCone), mDC, load(mC)), num(1-k1))
		mTCone := st.keep(fma(sub(x, y), num(half), own))
		mBCone := st.keep(mul(add(x, y), num(half)))
		var lSum, lDiff, lCone vec
		if against {
			light = load(mThrough)
			lSum, lCone = load(mTSum), load(mTCone)
			lDiff = nma(load(num(1)), mBDiff, load(num(0)))
		} else {
			f := faceOf(kD, load(mCone), true)
			mC, mDC, mQ := st.keep(f.c), st.keep(f.dc), st.keep(f.q)
			mPlus, mMinus := st.keep(f.plus), st.keep(f.minus)
			dPlus, dMinus := f.slopes(kD)
			mDPlus, mDMinus := st.keep(dPlus), st.keep(dMinus)
			cq := mul(load(mC), mQ)
			behind := fma(mul(cq, mCone), num(1-kD), load(num(kD)))
			behind = fma(add(mul(load(mPlus), mP), mul(load(mMinus), mM)), num(half), behind)
			x := fms(load(mDPlus), mP, mul(load(mPlus), mPs))
			y := fma(load(mDMinus), mM, mul(load(mMinus), mMs))
			// (1−kD)(2cq + cone·dc·q)
			own := mul(fma(mul(load(mCone), mDC), mQ, add(cq, cq)), num(1-kD))
			nCone := fma(add(x, y), num(half), own)
			mNCone := st.keep(nCone)
			rho := load(Mem{Base: ground}.Idx(at, 1))
			open := nma(rho, behind, load(num(1)))
			th := load(mThrough)
			back := div(mul(th, rho), open)
			light = fma(th, back, fma(th, glow, load(mBody)))
			onT := add(add(back, back), glow)
			onB := mul(back, back)
			nSum := mul(mul(load(mPlus), mPS), num(half))
			nDiff := mul(mul(load(mMinus), mMD), num(half))
			lSum = fma(onB, nSum, fma(onT, mTSum, load(mTSum)))
			lDiff = fma(onB, nDiff, nma(onT, mBDiff, load(mBDiff)))
			lCone = fma(onB, mNCone, fma(onT, mTCone, load(mBCone)))
		}
		mLight := st.keep(light)
		lcc := mul(lCone, mCone)
		mLCC := st.keep(lcc)
		byR, byT := add(lSum, lDiff), sub(lSum, lDiff)
		mByR, mByT := st.keep(byR), st.keep(byT)
		// the slab's own slopes
		dg := load(mDG)
		dh := mul(mul(load(mG), mH), num(-0.5))
		mDH := st.keep(dh)
		side := func(zBy vec, second bool) vec {
			dG := mul(dg, zBy)
			dDen := fma(dG, mAS, load(mG))
			dR := mul(dG, mB) // s·dG (+ g for ds)
			if second {
				dR = add(dR, mG)
			}
			dR = nma(load(mR), dDen, dR)
			dT := fms(load(mDH), zBy, mul(load(mT), dDen))
			d := fma(dR, mByR, mul(dT, mByT))
			d = mul(d, mInv)
			if second {
				d = sub(sub(d, mLCC), mLCC)
			} else {
				d = sub(d, mLCC)
			}
			return mul(d, mm)
		}
		as := load(mAS)
		VMOVUPD(side(add(as, as), false), Mem{Base: dk}.Idx(at, 1))
		a := load(mA)
		dg = load(mDG)
		VMOVUPD(side(add(a, a), true), Mem{Base: ds}.Idx(at, 1))
		light = load(mLight)
	}
	for i, sum := range []Mem{sx, sy, sz} {
		VMOVUPD(fma(light, Mem{Base: w, Disp: 288 * i}.Idx(at, 1), load(sum)), sum)
	}
	ADDQ(Imm(32), at)
	CMPQ(at, end)
	JNE(LabelRef(name + "_loop"))
	out := Load(Param("xyz"), GP64())
	for i, m := range []Mem{sx, sy, sz} {
		total(load(m), Mem{Base: out, Disp: 8 * i})
	}
	VZEROUPPER()
	RET()
}

// total adds the four lanes up.
func total(v vec, to Mem) {
	hi, sum := XMM(), XMM()
	VEXTRACTF128(U8(1), v, hi)
	VADDPD(hi, v.AsX(), sum)
	VHADDPD(sum, sum, sum)
	VMOVSD(sum, to)
}

// weigh sums dk·k + ds·s of a part over the bands, by the three weights.
func weigh() {
	TEXT("weighFour", NOSPLIT, "func(k, s, dk, ds, w *float64, groups int, xyz *float64)")
	Pragma("noescape")
	k, s := Load(Param("k"), GP64()), Load(Param("s"), GP64())
	dk, ds := Load(Param("dk"), GP64()), Load(Param("ds"), GP64())
	w, groups := Load(Param("w"), GP64()), Load(Param("groups"), GP64())
	x, y, z := YMM(), YMM(), YMM()
	for _, v := range []vec{x, y, z} {
		VXORPD(v, v, v)
	}
	Label("weigh_loop")
	d := mul(load(Mem{Base: k}), Mem{Base: dk})
	d = fma(load(Mem{Base: s}), Mem{Base: ds}, d)
	for i, sum := range []vec{x, y, z} {
		VFMADD231PD(Mem{Base: w, Disp: 288 * i}, d, sum)
	}
	for _, p := range []reg.Register{k, s, dk, ds, w} {
		ADDQ(Imm(32), p)
	}
	DECQ(groups)
	JNZ(LabelRef("weigh_loop"))
	out := Load(Param("xyz"), GP64())
	for i, v := range []vec{x, y, z} {
		total(v, Mem{Base: out, Disp: 8 * i})
	}
	VZEROUPPER()
	RET()
}

func main() {
	kernel("lightOver", false, false)
	kernel("lightAgainst", true, false)
	kernel("slopeOver", false, true)
	kernel("slopeAgainst", true, true)
	weigh()
	Generate()
}
