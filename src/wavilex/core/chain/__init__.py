"""What the chain carries: capabilities upstream, the source's choice, the signal downstream; and why not."""
