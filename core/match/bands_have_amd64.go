package match

import "golang.org/x/sys/cpu"

var byFour = cpu.X86.HasAVX2 && cpu.X86.HasFMA
