"""Connected controllers: the gateway, automatic tests, and the ledger of what the app holds."""
