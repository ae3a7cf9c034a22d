// Package fit finds numbers, the same way for everyone who needs some: the parameters that leave the least of squared
// residuals (Levenberg–Marquardt; K. Levenberg 1944, D. W. Marquardt 1963), where something turns from too little to
// enough (halving), and what solves a small system of linear equations. It knows nothing of colours.
package fit
