import { isOutputFormat, OUTPUT_FORMATS } from '../../../../core/formats';
import { checkNumber, guarded } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { sendFile } from '../../../../server/send-file';
import { getDelivery } from '../../../../storage/deliveries';

interface Context {
  readonly params: Promise<{ number: string }>;
}

export const dynamic = 'force-dynamic';

/** A delivered file, under the name it was delivered with. */
export const GET = guarded(async (_request, { params }: Context) => {
  const house = await getHouse();
  const delivery = await getDelivery(house.database, checkNumber('delivery', (await params).number));
  return sendFile(house.files.pathOf('deliveries', delivery.sha256), {
    type: isOutputFormat(delivery.format) ? OUTPUT_FORMATS[delivery.format].mime : 'application/octet-stream',
    cache: 'private, no-cache',
    attachment: delivery.fileName,
  });
});
