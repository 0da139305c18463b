<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import LayoutTable from '@/components/submission/LayoutTable.vue'
import { getLayout, putLayout } from '@/api/submissions'
import type { LayoutHere, Submission } from '@/api/types'
import { PREPARE } from '@/composables/useSession'
import { useSubmission } from '@/composables/useSubmission'
import { lacks, type LayoutDocument } from '@/logic/layout'
import { listed } from '@/logic/words'

const props = defineProps<{ submission: Submission }>()
const open = useSubmission()
const here = ref<LayoutHere | null>(null)
const layout = ref<LayoutDocument>({ fields: [] })
const was = ref('')
const said = ref('')
const missing = computed(() => (here.value ? lacks(here.value, layout.value) : []))
const isChanged = computed(() => JSON.stringify(layout.value) !== was.value)

async function load(): Promise<void> {
  here.value = await getLayout(open.id)
  layout.value = here.value.layout as unknown as LayoutDocument
  was.value = JSON.stringify(layout.value)
}
async function keep(): Promise<void> {
  if (await open.act(() => putLayout(open.id, layout.value))) {
    await load()
    said.value = 'Kept. What was sent before stays as it was sent.'
  }
}
onMounted(load)
</script>

<template>
  <div v-if="here" class="page">
    <div class="head">
      <h2>How it is written</h2>
      <span class="soft">{{ said }}</span><span class="grow" /><span
        v-if="missing.length"
        class="bad"
        >still lacking: {{ listed(missing) }}</span
      ><button
        v-if="submission.level >= PREPARE"
        class="btn main"
        :disabled="!isChanged || !!missing.length"
        @click="keep"
      >
        Keep it
      </button>
    </div>
    <LayoutTable v-model="layout" :here="here" :locked="props.submission.level < PREPARE" />
  </div>
  <p v-else class="soft page" role="status">Opening the layout …</p>
</template>

<style scoped>
.page {
  flex: 1;
  overflow-y: auto;
  padding: 12px 16px 24px;
  background: var(--snow);
}
.head {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-bottom: 8px;
}
</style>
