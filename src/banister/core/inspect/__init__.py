"""Visual inspection: what is seen along a weld, judged by the contract's own set; rates, gauges, windows."""
