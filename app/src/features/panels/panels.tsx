/** The windows over the bench, each loaded when it is first opened. */

import { useBench } from '../../model/use-bench';
import { Part } from '../../ui/part';

const WINDOWS = {
	commands: { what: 'The palette', load: () => import('./palette') },
	keys: { what: 'The list of keys', load: () => import('./key-list') },
};
const remove = () => import('./delete');

export function Panels() {
	const panel = useBench((s) => s.panel);
	if (panel === null) return null;
	if (typeof panel === 'object')
		return (
			<Part
				takesKeys
				what="What is to be deleted"
				load={remove}
				give={{ kind: panel.delete.kind, ids: panel.delete.ids }}
			/>
		);
	return <Part takesKeys key={panel} {...WINDOWS[panel]} give={{}} />;
}
