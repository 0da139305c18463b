<script setup lang="ts">
import { computed } from 'vue'
import { Checkbox } from 'ant-design-vue'
import ItemPlace from './ItemPlace.vue'
import LettersFields from './LettersFields.vue'
import PieceList from './PieceList.vue'
import ConditionEditor from '@/components/definition/ConditionEditor.vue'
import type { CardDesign, CardTried, CardTrouble, Condition, FieldDocument } from '@/api/types'
import { condition } from '@/logic/definition'
import { hasPieces, isSet, nameItem, sayFits, type Item } from '@/logic/design'

/** One item: what stands in it, what becomes of it when it is too long, and for whom it is. */
const props = defineProps<{
  item: Item
  items: Item[]
  fields: FieldDocument[]
  design: CardDesign
  face: string
  tried: CardTried | null
  troubles: CardTrouble[]
  locked: boolean
}>()
const emit = defineEmits<{ put: [item: Item] }>()

const title = computed(() => {
  const name = nameItem(props.items, props.item)
  return name.charAt(0).toUpperCase() + name.slice(1)
})
const fits = computed(() =>
  props.tried?.fits.find((one) => one.face === props.face && one.item === props.item.name),
)
const today = computed(() => (fits.value ? sayFits(fits.value) : ''))
const trouble = computed(() =>
  props.troubles.filter((one) => one.item === props.item.name && one.face === props.face),
)
const set = (next: Partial<Item>) => emit('put', { ...props.item, ...next })
const where = computed({
  get: () => props.item.where ?? condition(props.fields[0]?.name ?? '', 'is', ''),
  set: (when: Condition) => set({ where: when }),
})
const checked = (event: { target: { checked: boolean } }) => event.target.checked
</script>

<template>
  <aside class="panel" :aria-label="title">
    <h2>{{ title }}</h2>
    <template v-if="hasPieces(item)">
      <h3>What stands in it</h3>
      <PieceList
        :pieces="item.pieces ?? []"
        :fields="fields"
        :locked="locked"
        @put="(pieces) => set({ pieces })"
      />
    </template>
    <ItemPlace :item="item" :design="design" :locked="locked" @put="set" />
    <LettersFields v-if="isSet(item)" :item="item" :design="design" :locked="locked" @put="set" />
    <p v-if="today" class="soft small" role="status">today: {{ today }}</p>
    <p v-for="one in trouble" :key="one.text" class="flag">{{ one.text }}</p>
    <h3>Shown where</h3>
    <template v-if="item.where">
      <ConditionEditor v-model="where" :fields="fields" :locked="locked" />
      <button v-if="!locked" class="link" @click="set({ where: null })">on everybody’s</button>
    </template>
    <p v-else class="row">
      on everybody’s<button v-if="!locked" class="link" @click="set({ where })">
        set a condition
      </button>
    </p>
    <template v-if="item.kind !== 'picture'">
      <h3>What is told</h3>
      <p v-if="item.kind !== 'band'">
        <Checkbox
          :checked="item.is_needed ?? ['photo', 'symbol'].includes(item.kind)"
          :disabled="locked"
          @change="(event) => set({ is_needed: checked(event) })"
          >a card without it does not fit</Checkbox
        >
      </p>
      <p v-if="hasPieces(item)">
        <Checkbox
          :checked="item.renews ?? true"
          :disabled="locked"
          @change="(event) => set({ renews: checked(event) })"
          >a card is made anew when it changes</Checkbox
        >
      </p>
    </template>
  </aside>
</template>

<style scoped>
.panel {
  width: 330px;
  flex: none;
  border-left: 1px solid var(--line);
  padding: 12px 16px 24px;
  overflow-y: auto;
  background: var(--snow);
}
h3 {
  margin: 14px 0 4px;
}
.panel :deep(.link) {
  min-height: 24px;
}
.row {
  display: flex;
  justify-content: space-between;
}
</style>
