"""How sure a plan is: the same layers on a joint that is a little other than drawn, in a hand that is a little other than planned."""
