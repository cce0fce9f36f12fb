/** The version of the command, as its package has it; a test holds the two together. */
export const VERSION = '0.1.0';
