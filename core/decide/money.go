package decide

import "innercompass/core/money"

// Amount is money in minor units.
type Amount = money.Amount
