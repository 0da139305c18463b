<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import CardFace from '@/components/cards/CardFace.vue'
import DesignTools from '@/components/cards/DesignTools.vue'
import HardestFive from '@/components/cards/HardestFive.vue'
import ItemList from '@/components/cards/ItemList.vue'
import PersonFinder from '@/components/cards/PersonFinder.vue'
import ItemPanel from '@/components/cards/ItemPanel.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { CardDesign, FieldDocument } from '@/api/types'
import { useDesign } from '@/composables/useDesign'
import { useKeys } from '@/composables/useKeys'
import { sayFinding, sizeOf, withItems, type Item, type Side } from '@/logic/design'

const props = defineProps<{ design: CardDesign }>()
const route = useRoute()
const open = useDesign()
const side = ref<Side>('front')
const chosen = ref('')
if (route.query.record) open.record.value = Number(route.query.record)

const face = computed(
  () =>
    open.document.value.faces.find((one) => one.name === open.face.value) ??
    open.document.value.faces[0]!,
)
const about = computed(() => props.design.faces.find((one) => one.name === face.value.name))
const fields = computed(() => (about.value?.fields ?? []) as unknown as FieldDocument[])
const titleOf = (name: string) => fields.value.find((one) => one.name === name)?.title || name
const items = computed<Item[]>(() => face.value[side.value] ?? [])
const item = computed(() => items.value.find((one) => one.name === chosen.value) ?? null)
const size = computed(() => sizeOf(open.document.value))
const laid = computed(() => open.card.value?.[side.value] ?? null)
const faces = computed(() =>
  open.document.value.faces.map((one) => ({
    value: one.name,
    label: `${one.title || one.name} (${props.design.faces.find((each) => each.name === one.name)?.people ?? 0})`,
  })),
)
const locked = computed(() => !props.design.may_change)
const put = (next: Item[]) =>
  open.put(withItems(open.document.value, face.value.name, side.value, next))
const putItem = (next: Item) =>
  put(items.value.map((one) => (one.name === chosen.value ? next : one)))
const turn = () => (side.value = side.value === 'front' ? 'back' : 'front')
function show(hard: { face: string; record: number }): void {
  open.face.value = hard.face
  open.record.value = hard.record
}
watch(
  () => [face.value.name, side.value],
  () => {
    if (!item.value) chosen.value = items.value[0]?.name ?? ''
  },
  { immediate: true },
)
useKeys({ z: () => open.undo(), y: () => open.redo(), b: turn })
</script>

<template>
  <div class="page">
    <div class="mid">
      <div class="bar">
        <b>{{ side === 'front' ? 'Front' : 'Back' }}, from the top</b>
        <ChooseOne
          v-if="faces.length > 1"
          v-model="open.face.value"
          :options="faces"
          label="Whose card"
          @update:model-value="open.record.value = null"
        />
        <button class="btn" @click="turn">{{ side === 'front' ? 'Back' : 'Front' }}</button>
        <span class="grow" />
        <DesignTools :design="design" :open="open" />
      </div>
      <p v-if="open.wrong.value" class="flag stop" role="alert">{{ open.wrong.value }}</p>
      <div class="two">
        <ItemList
          v-model:chosen="chosen"
          class="items"
          :items="items"
          :face="face"
          :findings="laid?.findings ?? []"
          :title-of="titleOf"
          :locked="locked"
          @put="put"
        />
        <div class="shown">
          <CardFace
            v-if="open.card.value && laid"
            :side="laid"
            :size="size"
            :record="open.card.value.record"
            :frame="open.card.value.frame"
            :chosen="chosen"
            :label="`The card of ${open.card.value.name}, ${side}`"
            @choose="chosen = $event"
          />
          <p v-if="open.card.value" class="soft small">{{ open.card.value.name }}</p>
          <p v-else class="soft">Nobody has this face.</p>
          <PersonFinder @chosen="show" />
          <p v-for="one in laid?.findings ?? []" :key="one.item + one.why" class="bad small">
            {{ sayFinding(items, one) }}
          </p>
        </div>
      </div>
      <HardestFive
        :tried="open.tried.value"
        :trying="open.trying.value"
        :size="size"
        @show="show"
      />
    </div>
    <ItemPanel
      v-if="item"
      :key="item.name"
      :item="item"
      :items="items"
      :fields="fields"
      :design="design"
      :face="face.name"
      :tried="open.tried.value"
      :troubles="open.troubles.value"
      :locked="locked"
      @put="putItem"
    />
    <aside v-else class="none soft">Nothing stands on this side yet.</aside>
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  display: flex;
  min-height: 0;
  background: var(--snow);
}
.mid {
  flex: 1;
  min-width: 0;
  overflow-y: auto;
  padding: 10px 16px 20px;
}
.bar {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-bottom: 8px;
}
.two {
  display: flex;
  gap: 16px;
  align-items: flex-start;
}
.items {
  flex: 1;
  min-width: 0;
}
.shown {
  width: 324px;
  flex: none;
}
.none {
  width: 330px;
  flex: none;
  padding: 12px 16px;
  border-left: 1px solid var(--line);
}
</style>
