/** An order that cannot be followed; the message is a sentence for the user. */
export class OrderRefusal extends Error {
  override name = 'OrderRefusal';
}
