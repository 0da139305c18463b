<script setup lang="ts">
import type { Destination, PassedFile } from '@/api/types'
import { count, moment } from '@/logic/words'

/** The files that were made for a destination; the last ones are kept. */
defineProps<{ destination: Destination }>()
const now = new Date()

/** What became of a file: that it was fetched, lies in the folder, or waits for that. */
function given(file: PassedFile): string[] {
  const said = file.fetched_at ? [`fetched ${moment(file.fetched_at, now)}`] : []
  if (file.waits) said.push('not in the folder yet')
  else if (file.laid_at)
    said.push(
      `in the folder ${moment(file.laid_at, now)}` +
        (file.laid_as === file.file_name ? '' : ` as “${file.laid_as}”`),
    )
  return said
}
</script>

<template>
  <section aria-label="Files made">
    <h2>Files made</h2>
    <table class="list">
      <thead>
        <tr>
          <th>File</th>
          <th class="n">Records</th>
          <th>Made</th>
          <th>With them</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="file in destination.files" :key="file.file">
          <td>
            <a
              v-if="file.is_kept && destination.may_tell"
              :href="`/api/destinations/${destination.name}/files/${file.file}`"
              download
              >{{ file.file_name }}</a><template v-else
              >{{ file.file_name }}
              <span v-if="!file.is_kept" class="soft">not kept any more</span></template
            >
          </td>
          <td class="n">{{ count(file.records) }}</td>
          <td>{{ moment(file.at, now) }}{{ file.by && `, ${file.by}` }}</td>
          <td>{{ given(file).join(', ') || '–' }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
h2 {
  font-size: 15px;
  font-weight: 600;
  margin: 20px 0 4px;
}
</style>
