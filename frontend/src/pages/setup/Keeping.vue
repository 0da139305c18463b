<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { listErasures } from '@/api/keeping'
import type { Erasure } from '@/api/types'
import KeepingTerms from '@/components/setup/KeepingTerms.vue'
import { usePageTitle } from '@/composables/usePageTitle'
import { erasedWords, remainsWords } from '@/logic/erasing'
import { counted, momentInFull } from '@/logic/words'

/** Who was erased, who asked for it, and what remains. */
const found = shallowRef<Erasure[] | null>(null)
const problem = ref('')
onMounted(async () => {
  try {
    found.value = await listErasures()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
usePageTitle(() => 'Keeping')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Keeping</h1>
      <span v-if="found" class="soft" role="status">{{
        counted(found.length, 'person', 'people') + ' erased'
      }}</span>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <KeepingTerms />
    <h2>Who was erased</h2>
    <p v-if="found && !found.length" class="soft none">
      Nobody was erased yet. Who asks for it is erased at their record: open it in its roster, and
      choose “This person’s data”. All that is held about them is to be had there too, as a file for
      them.
    </p>
    <div v-else-if="found" class="wide" role="region" aria-label="Who was erased" tabindex="0">
      <table class="list">
        <thead>
          <tr>
            <th>when</th>
            <th>who</th>
            <th>asked for by</th>
            <th>why</th>
            <th>taken out of</th>
            <th>what remains</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in found" :key="one.record">
            <td>
              {{ momentInFull(one.at) }}<br /><span class="soft">{{ one.by }}</span>
            </td>
            <td>{{ one.roster_title }}, record {{ one.record }}</td>
            <td>{{ one.asked_by }}</td>
            <td>{{ one.reason }}</td>
            <td>{{ erasedWords(one.counts) }}</td>
            <td>
              <span
                v-for="said in remainsWords(one.counts, one.is_renewed)"
                :key="said"
                class="remains"
                >{{ said }}</span
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped src="./page.css"></style>
<style scoped>
td {
  vertical-align: top;
  overflow-wrap: anywhere;
  white-space: normal;
}
.remains {
  display: block;
}
.none {
  max-width: 560px;
}
h2 {
  font-size: 15px;
  margin: 4px 0;
}
</style>
