// Package listening has the instruments for ears and hands: where a sound is loud, and which trials on the road name its family.
package listening
