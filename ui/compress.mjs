// Packs the built files once, so that the server need not do it for every reader.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { brotliCompressSync, gzipSync } from 'node:zlib'

const dist = new URL('../web/dist/', import.meta.url)
for (const file of readdirSync(dist, { recursive: true })) {
  if (!/\.(js|css|html|svg)$/.test(file)) continue
  const raw = readFileSync(new URL(file, dist))
  if (raw.length < 1024) continue
  writeFileSync(new URL(file + '.gz', dist), gzipSync(raw, { level: 9 }))
  writeFileSync(new URL(file + '.br', dist), brotliCompressSync(raw))
}
writeFileSync(new URL('.gitkeep', dist), '') // keeps the folder in a fresh clone, where Go embeds it
