import { Box, Flex, Text } from "@chakra-ui/react";
import { memo, useEffect, useRef, type RefObject } from "react";
import type { Schemas } from "../../api/client";
import { number } from "../../shared/format";
import type { LiveRow } from "./useLive";

const seconds = 20;

/** The last twenty seconds of a channel, drawn anew some seven times a second. */
const Strip = memo(function Strip({
  rows,
  k,
  channel,
  height,
}: {
  rows: RefObject<LiveRow[]>;
  k: number;
  channel: Schemas["LiveChannel"] & { factor: number };
  height: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const host = canvas.current;
    const ctx = host?.getContext("2d");
    if (!host || !ctx) return;
    const style = getComputedStyle(document.documentElement);
    const colour = (name: string) => style.getPropertyValue(`--chakra-colors-${name}`).trim() || "#888";
    const draw = () => {
      const ratio = window.devicePixelRatio;
      const w = host.clientWidth;
      if (host.width !== Math.round(w * ratio)) host.width = Math.round(w * ratio);
      if (host.height !== Math.round(height * ratio)) host.height = Math.round(height * ratio);
      ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
      ctx.clearRect(0, 0, w, height);
      const list = rows.current;
      const last = list.at(-1)?.at ?? 0;
      let low = Infinity;
      let high = -Infinity;
      for (const r of list) {
        const v = r.value[k];
        if (v === undefined || r.at < last - seconds) continue;
        low = Math.min(low, v);
        high = Math.max(high, v);
      }
      if (low > high) return;
      // A value that hardly moves is not blown up to the whole height.
      const least = ((channel.high - channel.low) / channel.factor) * 0.04;
      const mid = (low + high) / 2;
      if (high - low < least) [low, high] = [mid - least / 2, mid + least / 2];
      const x = (t: number) => w - 4 - ((last - t) / seconds) * (w - 8);
      const y = (v: number) => 6 + ((high - v) / (high - low)) * (height - 12);
      ctx.strokeStyle = colour("line");
      ctx.lineWidth = 1;
      for (let t = Math.ceil((last - seconds) / 5) * 5; t < last; t += 5) {
        ctx.beginPath();
        ctx.moveTo(x(t), 0);
        ctx.lineTo(x(t), height);
        ctx.stroke();
      }
      ctx.strokeStyle = colour("ink");
      ctx.lineWidth = 1.6;
      ctx.beginPath();
      let before = -1;
      for (const r of list) {
        const v = r.value[k];
        if (v === undefined || r.at < last - seconds) continue;
        if (before < 0 || r.at - before > 0.25) ctx.moveTo(x(r.at), y(v));
        else ctx.lineTo(x(r.at), y(v));
        before = r.at;
      }
      ctx.stroke();
    };
    const timer = window.setInterval(draw, 150);
    draw();
    return () => window.clearInterval(timer);
  }, [rows, k, channel, height]);
  return <canvas ref={canvas} aria-hidden style={{ width: "100%", height, display: "block" }} />;
});

/** What stands beside a strip, of the channel. */
const Name = memo(function Name({ channel, height }: { channel: Schemas["LiveChannel"]; height: number }) {
  return (
    <Box w="172px" pl={{ base: "3", md: "5" }} pr="2" flexShrink={0}>
      <Text textStyle="small" lineHeight="1.15">
        {channel.name}
      </Text>
      {height > 44 && (
        <Text textStyle="fine" color="ink2" lineHeight="1.15">
          {channel.source}
        </Text>
      )}
    </Box>
  );
});

/** All channels that are watched: the last twenty seconds of each beside what it is now. */
export function Strips({
  rows,
  channels,
  now,
}: {
  rows: RefObject<LiveRow[]>;
  channels: (Schemas["LiveChannel"] & { factor: number })[];
  now: number[] | undefined;
}) {
  const height = Math.max(34, Math.min(64, Math.floor(430 / Math.max(1, channels.length))));
  return (
    <Box role="group" aria-label="Channels that are watched">
      {channels.map((c, k) => {
        const raw = now?.[k];
        const v = raw === undefined ? undefined : raw * c.factor;
        return (
          <Flex key={c.id} align="center" borderTopWidth="1px" borderColor="line" minH={`${height}px`}>
            <Name channel={c} height={height} />
            <Box flex="1" minW="0">
              <Strip rows={rows} k={k} channel={c} height={height} />
            </Box>
            <Text w="118px" pr="3" textAlign="right" flexShrink={0} whiteSpace="nowrap">
              <Text as="span" textStyle="figure" fontWeight="700">
                {v === undefined ? "–" : number(v, c.decimals)}
              </Text>{" "}
              <Text as="span" textStyle="small" color="ink2">
                {c.unit}
              </Text>
            </Text>
          </Flex>
        );
      })}
    </Box>
  );
}
