// Package herd is what a person can do with stock: mobs, classes, events, and the stock year.
package herd

import "fjell/internal/farm/season"

// Service is the place of the stock.
type Service struct{ *season.Service }
