import { Link } from '@/ui/basic/link';
import { Entrance } from '@/ui/shell/entrance';

export default function NotFound() {
  return (
    <Entrance
      sentence="There is nothing here."
      below="The address may be mistyped, or what was here is gone."
    >
      <Link href="/" className="underline">
        To all watches
      </Link>
    </Entrance>
  );
}
