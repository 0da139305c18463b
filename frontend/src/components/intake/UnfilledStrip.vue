<script setup lang="ts">
import FillValue from './FillValue.vue'
import type { Field, Step, Unfilled } from '@/api/types'

defineProps<{ unfilled: Unfilled; field: Field | undefined; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step]; compose: [] }>()
</script>

<template>
  <div class="strip">
    <span class="name"
      >{{ unfilled.title }}<i v-if="unfilled.required" class="bad"> required</i></span
    >
    <span class="soft">{{ unfilled.composed ? 'composed' : 'nothing in the file' }}</span>
    <span v-if="unfilled.composed" class="composed">
      <button
        class="box plain-box"
        :disabled="locked"
        :title="unfilled.said"
        @click="emit('compose')"
      >
        {{ unfilled.said }}
      </button>
      <span class="soft said">{{ unfilled.examples.join(', ') }} …</span>
    </span>
    <FillValue
      v-else
      :fill="unfilled.fill"
      :name="unfilled.field"
      :field="field"
      :locked="locked"
      @step="(step) => emit('step', step)"
    >
      <span class="soft">records keep what they have; new ones stay empty</span>
    </FillValue>
    <button
      v-if="unfilled.composed"
      class="btn"
      :disabled="locked"
      @click="emit('step', { kind: 'compose', field: unfilled.field, pattern: null })"
    >
      Compose no more
    </button>
    <button
      v-else-if="!field?.code_list && !unfilled.fill"
      class="btn"
      :disabled="locked"
      @click="emit('compose')"
    >
      Compose it
    </button>
    <span v-else />
  </div>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: 176px 140px 1fr auto;
  padding-right: 10px;
  align-items: center;
  min-height: 36px;
  background: var(--snow);
  border-bottom: 1px solid var(--drift);
}
.name {
  font-weight: 600;
  padding-left: 26px;
}
.name i {
  font-style: normal;
  font-weight: 400;
  font-size: 12.5px;
}
.box {
  width: 158px;
}
.composed {
  display: flex;
  gap: 10px;
  align-items: center;
  min-width: 0;
}
.soft {
  font-size: 13px;
}
.said {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.plain-box {
  text-align: left;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  cursor: pointer;
}
</style>
