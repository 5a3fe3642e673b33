import { more } from '../extras';
import type { Service } from '../net/service';
import { decide, type FormModel } from './form-model';
import type { ServerExpressions } from './server-expressions';

/**
 * Has the service evaluate what only it can, whenever the rules have run. Few forms have anything of the kind: what does
 * it is fetched once one has.
 *
 * @returns what ends that
 */
export function watchServerRules(
  model: FormModel,
  service: Service,
  record: string | undefined,
): () => void {
  let expressions: ServerExpressions | undefined;
  const follow = () => {
    const { submission, description } = model;
    const open = submission.states.filter((it) => it.open.size);
    if (expressions) {
      expressions.follow(submission.states, () => submission.values(true));
    } else if (open.length) {
      more().then(
        (it) => {
          expressions ??= new it.ServerExpressions(description, service, record, (...results) =>
            decide(model, ...results),
          );
          follow();
        },
        () => decide(model, open),
      );
    }
  };
  model.onEvaluated = follow;
  follow();
  return () => expressions?.close();
}
