/** The page of docs that says what each rule looks for. */
import { FINDING_RULES } from './rules';

const LEVELS = { error: 'Wrong (error)', warning: 'Likely wrong (warning)', note: 'Worth a look (note)' } as const;

/** @returns docs/findings.md, written by `npm run schemas` */
export function findingsPage(): string {
	const lines = [
		'# Findings',
		'',
		'What `frelk findings` and the Findings tab look for, without being asked. A finding is ignored under `extras.findings` of the project: `[{ "rule", "path", "why" }]`.',
		'',
	];
	for (const [level, title] of Object.entries(LEVELS)) {
		lines.push(`## ${title}`, '');
		for (const rule of FINDING_RULES.filter((r) => r.level === level))
			lines.push(`### ${rule.id}`, '', rule.about, '', `To mend it: ${rule.mend}`, '');
	}
	return `${lines.join('\n').trimEnd()}\n`;
}
