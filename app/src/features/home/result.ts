/** What came of what was asked for on the home page. */
import type { ImportFailure } from '../../data/files';

export type HomeResult =
	| { did: 'import'; keys: string[]; failures: ImportFailure[] }
	| { did: 'delete'; key: string; name: string /** Whether it can be taken back. */; kept: boolean }
	| { did: 'restore' }
	| { did: 'refused'; why: string }
	| { did: 'nothing' };
