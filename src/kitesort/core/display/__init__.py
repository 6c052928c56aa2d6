"""From values to pictures: stretches and tiles."""
