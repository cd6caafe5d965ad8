/** Shops, their orders and the lines of these. */
import type { DemoFile, Size } from '../files.js';
import { honeys } from '../design/honey.js';
import { Random } from '../random.js';
import { day, line } from './lines.js';

const trades = ['Larder', 'Stores', 'Pantry', 'Farm Shop', 'Tea Rooms', 'Delicatessen', 'Bakehouse', 'Market Stall'] as const;
const towns = ['Quillmoor', 'Ottermere', 'Withy Bridge', 'Sallowby', 'Harth', 'Kiln Green'] as const;

const shopName = (n: number): string => {
  const name = `${towns[n % towns.length] ?? ''} ${trades[Math.floor(n / towns.length) % trades.length] ?? ''}`;
  const round = Math.floor(n / (towns.length * trades.length));
  return round === 0 ? name : `${name} ${round + 1}`;
};

// In the order of `honeys`.
const prices = [6.4, 5.8, 6.9, 7.6, 9.5] as const;
// From the spring of 2024 to the middle of November 2026, as days since 2024.
const [firstOrder, lastOrder] = [80, 1045];

const streets = ['Market Place', 'Mill Lane', 'Church Street', 'Station Road', 'High Street', 'Quay Side'] as const;
const shopAddress = (random: Random, town: string): string =>
  [`${random.whole(1, 90)} ${random.pick(streets)}`, '', `QM${random.whole(1, 19)} ${random.whole(1, 9)}HN`, town, '', 'United Kingdom'].join('; ');

export const sellingFiles = (size: Size): readonly DemoFile[] => [
  {
    table: 'shops',
    *lines() {
      const random = new Random(31);
      yield line('Name', 'Town', 'Mail', 'Web page', 'Sells since', 'Address');
      // Of its own, so that what was there before it stays as it was.
      const addresses = new Random(131);
      for (let n = 0; n < size.shops; n += 1) {
        const name = shopName(n);
        const slug = name.toLowerCase().replaceAll(' ', '-');
        yield line(
          name,
          towns[n % towns.length] ?? '',
          `${slug.replaceAll('-', '.')}@quillmoor.example`,
          n % 3 === 2 ? null : `https://www.quillmoor.example/${slug}`,
          day(-random.whole(30, 3000)),
          shopAddress(addresses, towns[n % towns.length] ?? ''),
        );
      }
    },
  },
  {
    table: 'orders',
    *lines() {
      const random = new Random(32);
      yield line('Number', 'Shop', 'Date', 'Sent', 'Paid');
      for (let n = 0; n < size.orders; n += 1) {
        const on = firstOrder + Math.round((n / size.orders) * (lastOrder - firstOrder));
        const isSent = on < lastOrder - 12 || random.chance(0.4);
        yield line(
          n + 1,
          shopName(random.whole(0, size.shops - 1)),
          day(on),
          isSent ? day(on + random.whole(0, 5)) : null,
          isSent && random.chance(0.95) ? 'yes' : 'no',
        );
      }
    },
  },
  {
    table: 'order_lines',
    *lines() {
      const random = new Random(33);
      yield line('Order', 'Honey', 'Jars', 'Price of a jar');
      for (let n = 0; n < size.orders; n += 1) {
        const first = random.whole(0, honeys.length - 1);
        const lines = random.whole(1, 4);
        for (let i = 0; i < lines; i += 1) {
          const kind = (first + i) % honeys.length;
          yield line(`Order ${n + 1}`, honeys[kind] ?? '', random.whole(1, 8) * 6, (prices[kind] ?? 6).toFixed(2));
        }
      }
    },
  },
];
