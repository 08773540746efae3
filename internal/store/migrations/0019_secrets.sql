-- What the application keeps for itself and shows to nobody, as the password of the server for mail.
CREATE TABLE secrets (
  name TEXT PRIMARY KEY,
  value TEXT NOT NULL
);
