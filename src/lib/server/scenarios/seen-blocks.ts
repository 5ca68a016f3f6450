/** Which blocks of a scenario are there for a user. */
import type { Block, BlockKind } from '../../core/blocks/block';
import type { Department } from '../../core/company/schema';
import type { Tree } from '../../core/company/tree';
import { may, type Action } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';

/** What lets one look into a kind of block; accounts are read by department. */
const SEEN_BY: Partial<Record<BlockKind, Action>> = {
	'driver-model': 'see driver models',
	schedule: 'see schedules'
};

export function maySeeBlock(user: User, { kind }: Block, departments: Tree<Department>): boolean {
	const action = SEEN_BY[kind];
	return action === undefined || may(user, action, departments);
}
