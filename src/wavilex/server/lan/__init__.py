"""The house network: a certificate of this installation’s own, TLS in front, a plain port for probes if asked for."""
