import { data } from 'react-router';

/** Says so to whoever asked, a program too: the page of what went wrong stands at the root. */
export function loader(): never {
	throw data(null, { status: 404 });
}

export default function Nowhere() {
	return null;
}
