import { type ReactNode, useId } from "react";
import Modal from "react-bootstrap/Modal";

interface Props {
  title: string;
  show?: boolean;
  onHide: () => void;
  children: ReactNode;
  /** What it can be left by. */
  footer?: ReactNode;
  size?: "lg" | "xl";
  /** Whether a press beside it leaves it open: something is typed or picked in it. */
  holds?: boolean;
  /** Whether its title and footer stay where they are while the rest scrolls. */
  scrollable?: boolean;
  bodyClass?: string;
}

/**
 * A dialog over the page: there at once, and gone at once.
 *
 * It never fades. What fades takes the next key although it is left already; and where it is left before it was drawn
 * for the first time, the end of its fading never comes, and it lies over the page unseen for good.
 */
export function Dialog({
  title,
  show = true,
  onHide,
  children,
  footer,
  size,
  holds,
  scrollable,
  bodyClass,
}: Props) {
  const id = useId();
  return (
    <Modal
      animation={false}
      show={show}
      onHide={onHide}
      {...(size && { size })}
      scrollable={scrollable ?? false}
      backdrop={holds ? "static" : true}
      aria-labelledby={id}
    >
      <Modal.Header closeButton>
        <Modal.Title id={id} as="h2">
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className={bodyClass}>{children}</Modal.Body>
      {footer && <Modal.Footer>{footer}</Modal.Footer>}
    </Modal>
  );
}
