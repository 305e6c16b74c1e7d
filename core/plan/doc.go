// Package plan says what to do next: which check is worth its cost (check.go), when to stop checking (stop.go), what to put right when
// nothing more is checked and what that is expected to cost (repair.go), and which check parts two suspects (contrast.go).
//
// Model. A check is worth the expected cost of repair now, less that after each of its results, less its own cost with the work
// to reach it. Repairs are done in the order of probability over cost until the vehicle is right [1]. It looks one check ahead.
//
// Units: money in the shop's currency, times in minutes, information in nats.
//
// Reference: [1] D. Heckerman, J. Breese, K. Rommelse, Decision-theoretic troubleshooting, Communications of the ACM 38(3), 1995.
package plan
