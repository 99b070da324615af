"""Made-up tests by one's own plan and scatter, to try one's own judgement on."""
