import { serverContext } from '@/server/context';
import { fetchSectionNames } from '@/store/watches/sections';
import { JobImport } from '@/ui/jobs/job-import';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Bring your crontab' };

export default async function ImportJobs() {
  await requireRight('operate');
  const { db, environment } = serverContext();
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>Bring your crontab</h1>
        <p className="text-muted mt-1.5">
          Paste it, see what each line would become, and get it back with the wrapper in front of each job.
          Nothing is made before you say so; nothing but the chosen lines is changed.
        </p>
      </div>
      <JobImport zone={environment.zone} sections={await fetchSectionNames(db)} />
    </div>
  );
}
