import { endOneSession } from '@/api/account';
import { serverContext } from '@/server/context';

export async function DELETE(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return endOneSession(request, serverContext(), (await params).id);
}
