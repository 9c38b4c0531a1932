// Writes a small PNG (ISO/IEC 15948) of flat colours, for uploads in tests.
import { crc32, deflateSync } from 'node:zlib';

export function flatPNG(width, height, colourAt) {
  const rows = Buffer.alloc(height * (1 + 3 * width));
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) rows.set(colourAt(x, y),
    y * (1 + 3 * width) + 1 + 3 * x);
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([8, 2, 0, 0, 0], 8);
  const chunk = (type, data) => {
    const out = Buffer.alloc(12 + data.length);
    out.writeUInt32BE(data.length, 0);
    out.write(type, 4, 'ascii');
    out.set(data, 8);
    out.writeUInt32BE(crc32(out.subarray(4, 8 + data.length)), 8 + data.length);
    return out;
  };
  return Buffer.concat([Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'), chunk('IHDR', head),
    chunk('IDAT', deflateSync(rows)), chunk('IEND', Buffer.alloc(0))]);
}
