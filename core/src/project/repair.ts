/** A file whose checks and moments name what is no longer there: what would be left without them. */
import { checkProject } from './read';
import type { Project } from './schema';

/** A project mended, with what was done to it in words. */
export interface Repair {
	project: Project;
	/** What was left out, in words, one each. */
	removed: string[];
}

const MAX_ROUNDS = 8;

/**
 * @param text a project file's text
 * @returns the project without the checks and the parts of moments that are wrong, or null where something else is wrong too
 */
export function repairProject(text: string): Repair | null {
	let data: unknown;
	try {
		data = JSON.parse(text);
	} catch {
		return null;
	}
	const removed: string[] = [];
	for (let round = 0; round < MAX_ROUNDS; round++) {
		const reading = checkProject(data, Infinity);
		if (reading.ok) return removed.length > 0 ? { project: reading.project, removed } : null;
		const checks = new Set<number>();
		for (const { path } of reading.problems) {
			const [head, at, part, key] = path;
			if (head === 'checks' && typeof at === 'number') checks.add(at);
			else if (head === 'moments' && typeof at === 'number' && typeof part === 'string' && typeof key === 'string') {
				const moment = (data as { moments: Record<string, Record<string, unknown> | undefined>[] }).moments[at];
				const group = moment?.[part];
				if (!moment || !group || !(key in group)) return null;
				delete group[key];
				removed.push(`what the moment ${String(moment.id)} does to ${key}`);
			} else if (head === 'moments' && typeof at === 'number' && part === 'on') {
				const moment = (data as { moments: Record<string, unknown>[] }).moments[at];
				delete moment?.on;
				removed.push(`what the moment ${String(moment?.id)} is on`);
			} else return null;
		}
		const list = (data as { checks?: { id?: unknown }[] }).checks;
		if (checks.size > 0 && list) {
			for (const at of checks) removed.push(`the check ${String(list[at]?.id ?? at)}`);
			(data as { checks: unknown[] }).checks = list.filter((_, i) => !checks.has(i));
		}
	}
	return null;
}
