import { BulkAdd } from '@/ui/watches/bulk-add';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Add many watches' };

export default async function ManyWatches() {
  await requireRight('operate');
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>Many watches at once</h1>
        <p className="text-muted mt-1.5">
          Paste addresses, one a line, or CSV with{' '}
          <span className="figures">address, name, section, kind, every</span>. Each line is judged before
          anything is made.
        </p>
      </div>
      <BulkAdd />
    </div>
  );
}
