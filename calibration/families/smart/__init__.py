"""Smart transmitters: three readings a point, trims hop by hop."""
