/** Results of checks that are not of a query at a moment, of runs and of maps, in the one form in which reports tell them. */
import { type MapCheckResult, wordsOfMapWanted } from '../map/map';
import { byId, type Naming } from '../query/words';
import { type RunCheckResult, wordsOfRunWanted } from '../run/check';

/** A result in words. */
interface OtherResult {
	id: string;
	/** Id of the run or map. */
	of: string;
	moment: string | null;
	pass: boolean;
	wanted: string;
	got: string;
	reason: string;
}

/** Runs first, then maps. */
export const otherResults = (
	{
		runs = [],
		maps = [],
	}: { runs?: readonly RunCheckResult[] | undefined; maps?: readonly MapCheckResult[] | undefined },
	naming: Naming = byId,
): OtherResult[] => [
	...runs.map((c) => ({
		id: c.id,
		of: c.run,
		moment: c.moment,
		pass: c.pass,
		wanted: wordsOfRunWanted(c.wanted, (id) => naming('object', id)),
		got: JSON.stringify(c.got),
		reason: c.reason,
	})),
	...maps.map((c) => ({
		id: c.id,
		of: c.map,
		moment: c.moment,
		pass: c.pass,
		wanted: wordsOfMapWanted(c.wanted, naming),
		got: JSON.stringify(c.got),
		reason: c.reason,
	})),
];
