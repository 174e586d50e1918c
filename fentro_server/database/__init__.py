"""Django's PostgreSQL, with a pool that asks less."""
