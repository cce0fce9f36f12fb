/** The slip over the list at the left, where it was put. */
import { useBench, useDerived } from '../../model/use-bench';
import { Part } from '../../ui/part';

const loadSlip = () => import('../slip/slip');
const loadCameraSlip = () => import('../slip/camera');

export function SlipOverRail() {
	const wanted = useBench((s) => s.slipSide === 'rail' && s.tool === null && s.dock === null);
	const camera = useBench((s) => s.camera);
	const { world } = useDerived();
	const picked = useBench((s) => s.picked);
	if (!wanted) return null;
	if (camera !== null) return <Part what="The slip" load={loadCameraSlip} give={{ id: camera, side: 'rail' }} />;
	const object = picked !== null ? world.objectById.get(picked) : undefined;
	return object ? <Part what="The slip" load={loadSlip} give={{ object, side: 'rail' }} /> : null;
}
