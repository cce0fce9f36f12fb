/** What decides between distances (contract §7, §8): written once, for the walk that settles a ray and for the stages that explain it. */

/**
 * @param block where a blocker is met, metres along the path
 * @param contact where the contender is
 * @returns whether the blocker hides it: it stands before it by more than the slack
 */
export const hides = (block: number, contact: number, slack: number): boolean => block < contact - slack;

/** Whether a blocker stands within the slack of a contact, before it or behind: who is first there cannot be told. */
export const contests = (block: number, contact: number, slack: number): boolean => Math.abs(block - contact) <= slack;

/** Whether a figure is as good as the best one; two that cannot be measured are. */
export const asGood = (value: number, best: number, slack: number): boolean => value === best || value - best <= slack;
