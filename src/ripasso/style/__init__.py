"""What window, charts and paper share of their looks: colours by role, and the shipped font. Data only."""
