"""The reading chain by the network, on trial: network -> instances -> cells, cracks, lacing. Moves to `sight/` when its marks are the better ones."""
