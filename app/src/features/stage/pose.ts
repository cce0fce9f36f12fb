/** How the stage of each project is looked at, kept for as long as the tab is. */
import type { Pose } from '../../drawing/view';

const POSES = 'frelk-pose-';

export function lastPose(key: string): Pose | null {
	try {
		const pose = JSON.parse(sessionStorage.getItem(POSES + key) ?? 'null') as Pose | null;
		const figures = pose ? [...pose.target, pose.yaw, pose.pitch, pose.distance] : [Number.NaN];
		return pose && figures.length === 6 && figures.every(Number.isFinite) ? pose : null;
	} catch {
		return null;
	}
}

export function keepPose(key: string, pose: Pose): void {
	try {
		sessionStorage.setItem(POSES + key, JSON.stringify(pose));
	} catch {
		// Where nothing can be kept it is framed anew.
	}
}
