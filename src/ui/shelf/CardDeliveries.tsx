import { CloseButton } from '@mantine/core';
import { useEffect, useState } from 'react';
import { api, type DeliveryFacts } from '../../bench/api';
import { formatBytes, formatMoment } from '../format';
import classes from './shelf.module.css';

/** The files that were delivered from a piece, newest first. */
export function CardDeliveries({ id, onClose }: { readonly id: string; readonly onClose: () => void }) {
  const [deliveries, setDeliveries] = useState<readonly DeliveryFacts[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    void api.deliveries(id).then(
      (answer) => setDeliveries(answer.deliveries),
      (error: Error) => setProblem(error.message),
    );
  }, [id]);
  return (
    <section className={classes.cardDeliveries} aria-label="Deliveries">
      <CloseButton size="xs" aria-label="Close the deliveries" onClick={onClose} autoFocus />
      {problem && <p>{problem}</p>}
      <ul>
        {deliveries?.map((delivery) => (
          <li key={delivery.id}>
            <a href={api.deliveryAddress(delivery.id)} download={delivery.fileName}>
              {delivery.fileName}
            </a>
            <span>
              {formatMoment(delivery.createdAt)}, {formatBytes(delivery.bytes)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
