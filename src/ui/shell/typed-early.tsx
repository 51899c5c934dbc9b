'use client';

import { useEffect } from 'react';

type Control = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;

/** Sets what a text field holds past what React has noted of it, so that the event behind it counts as a change. */
function setText(control: HTMLInputElement | HTMLTextAreaElement, text: string): void {
  const proto = control instanceof HTMLInputElement ? HTMLInputElement : HTMLTextAreaElement;
  const { set } = Object.getOwnPropertyDescriptor(proto.prototype, 'value')!;
  control.value = `${text} `;
  set!.call(control, text);
}

function typeAgain(control: HTMLInputElement | HTMLTextAreaElement, text: string): void {
  const at = document.activeElement === control ? control.selectionStart : null;
  setText(control, text);
  control.dispatchEvent(new Event('input', { bubbles: true }));
  if (at !== null) control.setSelectionRange(at, at);
}

/** What has to be done again for the form to know it; null where a control stands as it was sent. */
function changeOf(control: Control): (() => void) | null {
  if (control instanceof HTMLSelectElement) {
    const { value } = control;
    const sent = [...control.options].find((option) => option.defaultSelected) ?? control.options[0];
    if (!sent || sent.value === value) return null;
    return () => {
      control.value = value;
      control.dispatchEvent(new Event('change', { bubbles: true }));
    };
  }
  if (control instanceof HTMLInputElement && (control.type === 'checkbox' || control.type === 'radio')) {
    const { checked } = control;
    if (checked === control.defaultChecked || (control.type === 'radio' && !checked)) return null;
    return () => {
      control.checked = !checked;
      control.click();
    };
  }
  const { value } = control;
  return value === control.defaultValue || control.type === 'file' ? null : () => typeAgain(control, value);
}

/**
 * A form can be typed into as soon as it is seen, before its scripts are there. What was typed by then is typed once
 * more for them, behind whatever a form takes up again by itself; else it would be on the screen and not be sent.
 */
export function TypedEarly() {
  useEffect(() => {
    const controls = document.querySelectorAll<Control>('input, textarea, select');
    const changes = [...controls].map(changeOf).filter((change) => change !== null);
    const timer = setTimeout(() => changes.forEach((change) => change()), 0);
    return () => clearTimeout(timer);
  }, []);
  return null;
}
