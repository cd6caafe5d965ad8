/** Shops, what they order, and what it comes to. */
import type { DesignChange } from '@bibliona/core';
import { address, choice, date, formula, mailAddress, money, pounds, related, table, text, webAddress, whole, yesNo } from './parts.js';
import { honeys } from './honey.js';

export const selling: readonly DesignChange[] = [
  table('shops', 'Shops', 'Selling', 'One record is one shop that sells our honey.', [
    text('shop_name', 'Name', { required: true, unique: true }),
    text('shop_town', 'Town'),
    mailAddress('shop_mail', 'Mail'),
    webAddress('shop_web', 'Web page'),
    date('shop_since', 'Sells since'),
    address('shop_address', 'Address'),
  ]),
  table('orders', 'Orders', 'Selling', 'One record is one order of one shop.', [
    whole('order_no', 'Number', { required: true, unique: true }),
    date('order_date', 'Date', { required: true, default: 'today()' }),
    date('order_sent', 'Sent'),
    yesNo('order_paid', 'Paid', 'false'),
  ]),
  table('order_lines', 'Order lines', 'Selling', 'One record is one kind of honey in one order.', [
    choice('line_honey', 'Honey', honeys, { required: true }),
    whole('line_jars', 'Jars', { required: true, default: '12' }),
    money('line_price', 'Price of a jar', { required: true }),
  ]),
  related('shops', 'orders', 'Shop', 'Orders', 'refuse'),
  related('orders', 'order_lines', 'Order', 'Lines', 'remove'),
  { kind: 'move_field', table: 'orders', field: 'orders_shops_ref', to: 1 },
  { kind: 'move_field', table: 'order_lines', field: 'order_lines_orders_ref', to: 0 },
  { kind: 'change_table', table: 'orders', caption: '"Order " + string(Number)' },
  { kind: 'change_table', table: 'order_lines', caption: 'Honey' },
  { kind: 'add_field', table: 'order_lines', field: formula('line_amount', 'Amount', 'Jars * Price of a jar', 2, pounds) },
  { kind: 'add_field', table: 'orders', field: formula('order_total', 'Total', 'sum(Lines.Amount)', 2, pounds) },
  { kind: 'change_table', table: 'orders', checks: [{ id: 'check_sent', condition: 'Sent >= Date', message: 'An order is not sent before it is placed.' }] },
  { kind: 'change_table', table: 'order_lines', checks: [{ id: 'check_jars', condition: 'Jars > 0', message: 'Order at least one jar.' }] },
];
