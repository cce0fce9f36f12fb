/** The rows of a rung of many: it scrolls by itself. */
import type { Verdict } from '@frelk/core';
import { VirtualRows } from '../../ui/virtual-rows';
import { Row } from './row';

export default function LongList({ verdicts, label }: { verdicts: readonly Verdict[]; label: string }) {
	return (
		<VirtualRows items={verdicts} keyOf={(v) => v.object} height={42} label={label} className="h-96">
			{(v) => <Row verdict={v} />}
		</VirtualRows>
	);
}
