import type { HouseRules } from '../../core/house/rules.ts';
import { ask } from './api.ts';
import { newId } from './newId.ts';
import { queryClient } from './queries.ts';

/**
 * Changes some house rules and leaves the others as they are on the server.
 *
 * @param by a lead
 */
export async function saveRules(changed: Partial<HouseRules>, by: string): Promise<void> {
  const { rules, rulesVersion } = await ask('shop');
  const body = { commandId: newId(), by, version: rulesVersion, rules: { ...rules, ...changed } };
  await ask('changeRules', { body });
  await queryClient.invalidateQueries({ queryKey: ['shop'] });
}
