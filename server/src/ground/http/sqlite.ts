import Database from 'better-sqlite3'

/** The database driver's error, as a class that can be asked for. */
export const SqliteError = Database.SqliteError
