import { requestTime } from '../../../../server/clock';
import { serverContext } from '../../../../server/context';
import { AddressOffer } from '../../../../ui/address-offer';
import { WatchForm } from '../../../../ui/watch-form';
import { emptyWatchForm } from '../../../../ui/watch-form-values';
import { fetchFormChoices } from '../../../../views/form-choices';

export const metadata = { title: 'Add a watch' };

export default async function NewWatch() {
  const { db, environment } = serverContext();
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>What shall we keep an eye on?</h1>
        <p className="text-muted mt-1.5">
          Type an address, and see what fits. Or set one up by hand below: everything has a sensible value
          already.
        </p>
      </div>
      <AddressOffer />
      <h2>Set one up by hand</h2>
      <WatchForm
        {...await fetchFormChoices(db, null)}
        initial={emptyWatchForm(environment.zone)}
        now={requestTime()}
      />
    </div>
  );
}
