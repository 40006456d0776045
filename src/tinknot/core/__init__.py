"""The rules and arithmetic of the job. No framework, no database, no files, no clock."""
