"""The use cases of the product, a package for each feature."""
