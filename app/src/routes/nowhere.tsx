import { data } from 'react-router';

/** The page of what went wrong stands at the root; programs that ask are told by the server's status. */
export function clientLoader(): never {
	throw data(null, { status: 404 });
}
clientLoader.hydrate = true as const;

export default function Nowhere() {
	return null;
}
