/** Texts put into other forms. */

/**
 * A name in the form of an id: `Bow crank` becomes `bow-crank`.
 * @param most characters kept
 * @returns an empty text where the name has no letter or figure of an id
 */
export const slug = (name: string, most = 56): string =>
	name
		.toLowerCase()
		.replace(/[^a-z0-9]+/g, '-')
		.replace(/^-+/, '')
		.slice(0, most)
		.replace(/-+$/, '');

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** A text as it stands in an element or an attribute of XML and HTML. */
export const escapeMarkup = (text: string): string => text.replace(/[&<>"]/g, (c) => ENTITIES[c] as string);
