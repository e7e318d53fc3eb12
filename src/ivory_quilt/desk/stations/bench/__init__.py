"""The Bench station: steps in time, and what to do tonight."""
