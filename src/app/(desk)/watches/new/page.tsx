import { requestTime } from '../../../../server/clock';
import { serverContext } from '../../../../server/context';
import { fetchSectionNames } from '../../../../store/watches';
import { WatchForm } from '../../../../ui/watch-form';
import { emptyWatchForm } from '../../../../ui/watch-form-values';
import { kindChoices } from '../../../../views/kind-choices';

export const metadata = { title: 'Add a watch' };

export default async function NewWatch() {
  const { db, environment } = serverContext();
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>What shall we keep an eye on?</h1>
        <p className="text-muted mt-1.5">
          Type an address and save: everything else has a sensible value already.
        </p>
      </div>
      <WatchForm
        kinds={kindChoices()}
        sections={await fetchSectionNames(db)}
        initial={emptyWatchForm(environment.zone)}
        now={requestTime()}
      />
    </div>
  );
}
