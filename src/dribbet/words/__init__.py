"""Facts in, sentences out: the only place with sentences. No arithmetic, no writing."""
