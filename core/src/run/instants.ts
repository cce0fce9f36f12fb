/** The project as it stands at an instant of a run, in the form of a project: for a view of it, and for edits made there. */
import { lastStep, stepAt } from '../project/defaults';
import type { SceneAtMoment } from '../project/moment';
import type { Project, Run } from '../project/schema';
import type { StateAtTime } from './run';
import { type InForce, nothingInForce, RunScene } from './scene';

const NOTHING = nothingInForce();

/** The list of before where it has the very same entries. */
const sameList = <T>(list: T[], before: T[] | undefined): T[] =>
	before?.length === list.length && list.every((e, i) => e === before[i]) ? before : list;

/** The instants of one run, in any order. What does not differ between two of them is the very same object in both. */
export class RunInstants {
	private scene: RunScene;
	private laid: SceneAtMoment | null = null;
	private last = 0;
	private inForce: InForce = NOTHING;

	/** @param standing what effects set, as `runThrough` tells it */
	constructor(
		readonly project: Project,
		readonly run: Run,
		readonly standing: readonly StateAtTime[] = [],
	) {
		this.scene = new RunScene(project, run, false);
	}

	/** @param t seconds; after the last step the scene is as there */
	at(t: number): Project {
		const k = Math.min(lastStep(this.run), stepAt(this.run, t));
		const inForce = this.standing.findLast((s) => s.from <= k)?.inForce ?? NOTHING;
		// What was passed over or set on the way here may not be so at an earlier time.
		if (t < this.last && (this.scene.refused.length > 0 || inForce !== this.inForce))
			this.scene = new RunScene(this.project, this.run, false);
		this.last = t;
		this.inForce = inForce;
		this.scene.to(t, inForce);
		const laid = this.scene.laid();
		const { states } = laid;
		const objects = sameList(laid.objects, this.laid?.objects);
		const cameras = sameList(laid.cameras, this.laid?.cameras);
		const queries = sameList(laid.queries, this.laid?.queries);
		this.laid = { objects, cameras, queries, states };
		return { ...this.project, scene: { ...this.project.scene, objects, cameras, states }, queries };
	}
}
