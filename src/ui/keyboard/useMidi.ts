'use client';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { realKeyboards, simulatedKeyboard, type MidiDevice, type MidiMessage } from '../audio/midi';

export interface Midi {
  /** Asks the browser for keyboards and listens to all of them. */
  connect: () => void;
  /** Sends every note to one place; a later one takes the earlier one's. Returns the way back. */
  listen: (hear: (message: MidiMessage) => void) => () => void;
}

/** Keyboards and pads of the Bench: the simulated one from the beginning, real ones once they are asked for. */
export function useMidi(): Midi {
  const [devices, setDevices] = useState<readonly MidiDevice[]>([simulatedKeyboard]);
  const hearers = useRef<((message: MidiMessage) => void)[]>([]);
  useEffect(() => {
    const stops = devices.map((device) =>
      device.listen((message) => hearers.current[hearers.current.length - 1]?.(message)),
    );
    return () => stops.forEach((stop) => stop());
  }, [devices]);
  const connect = useCallback(() => {
    realKeyboards()
      .then((found) => {
        if (found.length === 0) toast('No MIDI keyboard is connected.');
        else toast.success(`Playing: ${found.map(({ name }) => name).join(', ')}`);
        setDevices([simulatedKeyboard, ...found]);
      })
      .catch((error: Error) => toast.error(error.message));
  }, []);
  const listen = useCallback((hear: (message: MidiMessage) => void) => {
    hearers.current.push(hear);
    return () => {
      hearers.current = hearers.current.filter((other) => other !== hear);
    };
  }, []);
  return useMemo(() => ({ connect, listen }), [connect, listen]);
}
