<script setup lang="ts">
import { ref, shallowRef } from 'vue'
import { getWhere } from '@/api/intakes'
import type { Where } from '@/api/types'
import { WORDS } from '@/logic/layers'

const props = defineProps<{ intake: number; roster: string }>()
const text = ref('')
const found = shallowRef<Where | null>(null)
const problem = ref('')

async function find(): Promise<void> {
  const line = Number(text.value)
  found.value = null
  problem.value = ''
  if (!text.value.trim()) return
  if (!Number.isInteger(line) || line < 1) problem.value = 'Type the number of a line of the file.'
  else {
    try {
      found.value = await getWhere(props.intake, line)
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }
}
</script>

<template>
  <div>
    <h3><label for="line-finder">Where did a line end up?</label></h3>
    <div class="finder">
      <input
        id="line-finder"
        v-model="text"
        class="box"
        inputmode="numeric"
        placeholder="number of the line"
        @change="find"
        @keydown.enter="find"
      />
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <p v-else-if="found" role="status">
        <b
          >Line {{ found.line }}<template v-if="found.name">, {{ found.name }}</template></b
        ><template v-if="found.outcome">: {{ WORDS[found.outcome as 'new'] }}.</template
        ><template v-else>.</template> {{ found.said }}
        <RouterLink v-if="found.record" :to="`/rosters/${roster}?record=${found.record}`"
          >Open the record</RouterLink
        >
        <RouterLink v-else-if="found.outcome" :to="`/intakes/${intake}/problems?line=${found.line}`"
          >Open the row</RouterLink
        >
      </p>
    </div>
  </div>
</template>

<style scoped>
h3 {
  margin-bottom: 8px;
}
.finder {
  border: 1px solid var(--line);
  padding: 12px;
}
.box {
  width: 100%;
}
p {
  margin-top: 8px;
}
</style>
