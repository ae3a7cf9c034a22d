// Package photo reads colours off pictures: plain images in, plain values out.
package photo
