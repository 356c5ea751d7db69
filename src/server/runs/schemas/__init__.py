"""What runs exchange: a module a screen."""
