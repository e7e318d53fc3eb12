"""What heat and bending do to a flat piece: allowances, shrink, coupons."""
