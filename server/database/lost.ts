/** Names of Sequelize's errors for a connection that could not be had. */
const LOST_NAMES = /^Sequelize(?:Connection|HostNot|InvalidConnection|AccessDenied)/;
/** PostgreSQL's codes for a connection or server that ends (class 08; 57P01 to 57P03), and the system's. */
const LOST_CODES = /^(?:08...|57P0[123]|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)$/;
const LOST_WORDS = /Connection terminated|Client has encountered a connection error|ConnectionManager.getConnection/;

/** Did this fail because the database could not be reached, so that the same may succeed a moment later? */
export function isConnectionLost(error: unknown): boolean {
  for (let at = error; at instanceof Error; at = at.cause ?? (at as { parent?: unknown }).parent) {
    const { name, message } = at;
    const { code } = at as NodeJS.ErrnoException;
    if (LOST_NAMES.test(name) || LOST_CODES.test(code ?? "") || LOST_WORDS.test(message)) return true;
  }
  return false;
}
