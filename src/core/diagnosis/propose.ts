import { likeliestOf } from './practice/whys.ts';
import type { FamilyKey, FamilyOdds, PictureKey } from './practice/families.ts';
import type { RouteOdds, RouteTrial } from './findings.ts';
import type { RouteKey } from './routes.ts';

/** What is proposed, and what it is by. */
export interface Proposal {
  /** Null: to the recycler. */
  route: RouteKey | null;
  /** The shop's usual way with such a battery; null where there is none. */
  usual: RouteKey | null;
  /** Where another way is proposed than the usual one: in which share of the simulated batteries it holds more, and by how much, share of C20. */
  instead: { share: number; gain: number } | null;
  /** The usual way costs more than it brings, and the cheaper one that is proposed instead does not, or less. */
  cheaper: boolean;
  /** What is proposed costs so much more than it brings, by the simulated batteries; it is proposed all the same, since many are kept. */
  loss: number | null;
}

/** Another way than the usual one must be worth so much more, share of the price of a battery, and hold more in so many batteries. */
const WORTH_MORE = 0.08;
const BETTER_IN = 0.7;
/**
 * A battery goes to the recycler where fewer than this would be kept, or where what it takes is this share of its price more
 * than it brings. Measured on batteries of the field: with every small loss called hopeless, one good battery in five was scrapped.
 */
const KEPT_IN = 0.35;
const MOST_LOSS = 0.2;
/** So sure must practice be that nothing helps, before anything has been simulated. */
const HOPELESS = 0.6;

/** The usual way with a battery of a family: of a sulfated one, as the shop's school says. */
function usualWay(family: FamilyKey, picture: PictureKey, prefer: RouteKey): RouteKey | null {
  switch (family) {
    case 'never':
      return null;
    case 'bad-cell':
      return picture === 'weak' ? 'recharge' : null;
    case 'sulfated':
      return prefer;
    case 'layered':
      return 'mix';
    case 'dry':
      return picture === 'dry' ? 'slow-restore' : 'recharge';
    case 'worn':
    case 'flat':
    case 'nothing':
      return 'recharge';
  }
}

/**
 * The shop's usual way with the likeliest family, unless the simulated batteries say that another is worth clearly more; the
 * simpler, cheaper and safer one where they are near.
 *
 * @param offered routes this shop offers for this battery
 * @param routes what the simulated batteries say of them; empty before any has been tried
 * @param price of a new battery
 */
export function propose(
  families: readonly FamilyOdds[],
  pictures: Readonly<Record<PictureKey, number>>,
  {
    offered,
    prefer,
    routes,
    trial,
    never,
    price,
  }: {
    offered: readonly RouteKey[];
    prefer: RouteKey;
    routes: readonly RouteOdds[];
    trial: Pick<RouteTrial, 'compare'>;
    never: boolean;
    price: number;
  },
): Proposal {
  const [leading] = families;
  const wanted = leading && usualWay(leading.family, likeliestOf(leading.family, pictures), prefer);
  const usual = ((): RouteKey | null => {
    if (wanted === null || wanted === undefined) return null;
    if (offered.includes(wanted)) return wanted;
    return offered.includes('recharge') ? 'recharge' : (offered[0] ?? null);
  })();
  const nothing: Proposal = { route: null, usual, instead: null, cheaper: false, loss: null };
  if (never) return nothing;
  if (routes.length === 0) {
    const hopeless = families
      .filter(({ family }) => usualWay(family, likeliestOf(family, pictures), prefer) === null)
      .reduce((sum, f) => sum + f.chance, 0);
    return hopeless > HOPELESS ? nothing : { ...nothing, route: usual };
  }
  const [best] = routes.toSorted((a, b) => b.worth - a.worth);
  if (!best || isHopeless(best, price)) return nothing;
  const taken = (route: RouteOdds, others: Partial<Proposal> = {}): Proposal => ({
    ...nothing,
    route: route.route,
    loss: route.worth < 0 ? -route.worth : null,
    ...others,
  });
  const usualOdds = usual && routes.find((r) => r.route === usual);
  if (!usualOdds || best.route === usualOdds.route) return taken(best);
  const { share, gain } = trial.compare(best.route, usualOdds.route);
  const clearly =
    best.worth >= Math.max(0, usualOdds.worth) + WORTH_MORE * price && share >= BETTER_IN;
  if (clearly) return taken(best, { instead: { share, gain } });
  return usualOdds.worth > 0 ? taken(usualOdds) : taken(best, { cheaper: true });
}

const isHopeless = ({ worth, returns, light }: RouteOdds, price: number): boolean =>
  worth <= 0 && (returns + light < KEPT_IN || worth < -MOST_LOSS * price);
