// Package measure reads amounts as makers write them and says them back: volumes of plastic, drops of
// colourant. What was typed is kept beside what it comes to.
package measure
