"""The server: permission, storage, and calls into the core. No rule of the job lives here."""
