"""What a person does: one act, one transaction, validated here and nowhere else."""
