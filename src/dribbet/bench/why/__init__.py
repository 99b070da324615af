"""Why a panel went wrong."""
