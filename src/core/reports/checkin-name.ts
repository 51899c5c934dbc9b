const NAME = '[a-z0-9](?:[a-z0-9._-]{0,58}[a-z0-9])?';

/** The readable name of a check-in: the end of its address. */
export const CHECKIN_NAME = new RegExp(`^${NAME}$`);

/** A readable address without its beginning: the secret of a section, and a name. */
export const READABLE_PATH = new RegExp(`^([\\w-]{16,64})/(${NAME})$`);
