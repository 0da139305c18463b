<script setup lang="ts">
import { ref, useId } from 'vue'
import { Dropdown } from 'ant-design-vue'
import { useMenuKeys } from '@/composables/useMenuKeys'

/**
 * What is seldom wanted, behind one button: files to download, or acts. Arrows, Home and End go
 * from one to the next, Escape goes back to the button.
 */
export interface MenuItem {
  title: string
  /** A file to download; without one it is an act. */
  href?: string
  act?: () => void
  disabled?: boolean
}
defineProps<{ label: string; items: MenuItem[] }>()

const button = ref<HTMLButtonElement>()
const list = ref<HTMLElement>()
const id = useId()
const { open, shown, close, press } = useMenuKeys(button, list)

function choose(item: MenuItem): void {
  close()
  item.act?.()
}
</script>

<template>
  <Dropdown :open="open" :trigger="['click']" placement="bottomRight" @open-change="shown">
    <button
      ref="button"
      type="button"
      class="btn"
      aria-haspopup="menu"
      :aria-expanded="open"
      :aria-controls="open ? id : undefined"
      @keydown.down.prevent.stop="shown(true)"
    >
      {{ label }} <span aria-hidden="true">▾</span>
    </button>
    <template #overlay>
      <ul :id="id" ref="list" class="menu" role="menu" :aria-label="label" @keydown="press">
        <li v-for="item in items" :key="item.title" role="none">
          <a
            v-if="item.href"
            role="menuitem"
            tabindex="-1"
            :href="item.href"
            download
            @click="close"
            >{{ item.title }}</a><button
            v-else
            type="button"
            role="menuitem"
            tabindex="-1"
            :disabled="item.disabled"
            @click="choose(item)"
          >
            {{ item.title }}
          </button>
        </li>
      </ul>
    </template>
  </Dropdown>
</template>

<style scoped>
.menu {
  min-width: 160px;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-radius: 2px;
  box-shadow: 0 4px 14px rgb(21 33 42 / 18%);
  padding: 4px 0;
}
.menu a,
.menu button {
  display: block;
  width: 100%;
  padding: 5px 14px;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  text-decoration: none;
  cursor: pointer;
}
.menu a:hover,
.menu a:focus-visible,
.menu button:hover,
.menu button:focus-visible {
  background: var(--row-on);
}
</style>
