"""What starts the project on a machine: not part of the product."""
