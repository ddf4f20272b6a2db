"""Values as printed in published tables, to their last digit."""
