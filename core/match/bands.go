package match

//go:generate go run -modfile=../../tools/go.mod asm/asm.go -out bands_amd64.s -stubs bands_amd64.go -pkg match

// Where the processor can, four bands are worked out at once (bands_amd64.s, written by asm/asm.go); elsewhere, one by one.
