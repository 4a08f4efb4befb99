"""The web application: handlers parse, call the core, and render; no rules of the job live here."""
